import { go } from './route';

/** The foot of a page that is no workshop: the way to what it is made of. */
export function Foot() {
  return (
    <footer className="mt-10 border-rule border-t border-dashed pt-3 text-soft">
      <a
        href="/about"
        className="underline decoration-dashed underline-offset-4"
        onClick={(event) => {
          event.preventDefault();
          go({ screen: 'about' });
        }}
      >
        About Wertome: version and licences
      </a>
    </footer>
  );
}
