/** A card that breaks says so in its own place: what is planned, and the others, go on. */
import { Component, type ReactNode } from 'react';

interface Props {
  /** What it is called. */
  name: string;
  children: ReactNode;
}

export class OwnTrouble extends Component<Props, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <section
        role="alert"
        data-testid="broken-card"
        className="border-rule border-b border-dashed px-4 py-2 text-[13.5px]"
      >
        <b className="font-display">{this.props.name}</b> can't be shown just now. What is planned and made is kept.
        <button type="button" className="ml-2 underline" onClick={() => this.setState({ broken: false })}>
          Try again
        </button>
      </section>
    );
  }
}
