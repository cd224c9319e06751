/** What is shown in place of a page that broke: the project is safe, and a reload brings it back. */
import { Component, type ReactNode } from 'react';
import { Button } from '../ui/Button';

export class Unbroken extends Component<{ children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    if (!this.state.broken) return this.props.children;
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
}
