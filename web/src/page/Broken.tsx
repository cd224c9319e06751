/** What is shown in place of a page that broke: the project is safe, and a reload brings it back. */
import type { ReactNode } from 'react';
import { Button } from '../ui/Button';
import { Boundary } from './Boundary';

export function Unbroken({ children }: { children: ReactNode }) {
  return <Boundary broken={() => <Broken />}>{children}</Boundary>;
}

function Broken() {
  return (
    <main role="alert" className="mx-auto mt-24 max-w-md rounded-lg border border-ochre bg-card p-6">
      <h1 className="mb-2 font-display font-semibold text-xl">This page has broken</h1>
      <p className="mb-4 text-soft">
        Every cut that was made is kept. What was only planned is gone; a reload brings the rest back.
      </p>
      <Button look="primary" onClick={() => window.location.reload()}>
        Reload the page
      </Button>
    </main>
  );
}
