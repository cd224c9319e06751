/** Something of the page that may break without breaking the rest. */
import { Component, type ReactNode } from 'react';

interface Props {
  /** What is shown in its place; `again` tries once more. */
  broken: (again: () => void) => ReactNode;
  children: ReactNode;
}

export class Boundary extends Component<Props, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    return this.state.broken ? this.props.broken(() => this.setState({ broken: false })) : this.props.children;
  }
}
