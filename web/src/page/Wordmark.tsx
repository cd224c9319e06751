import { go } from './route';

/** The name, which leads back to the projects. */
export function Wordmark({ onLeave = (leave: () => void) => leave() }: { onLeave?: (leave: () => void) => void }) {
  return (
    <a
      href="/"
      onClick={(event) => {
        event.preventDefault();
        onLeave(() => go({ screen: 'projects' }));
      }}
      className="font-display font-semibold text-[21px] tracking-tight"
    >
      Wertome
    </a>
  );
}
