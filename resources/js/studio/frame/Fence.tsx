import { Component, type ReactNode } from 'react';

/** Keeps what fails within it from taking the rest of the window along, and says so. It begins anew when `of` changes. */
export class Fence extends Component<{ of: string; children: ReactNode }, { failed: string | null; of: string }> {
  state = { failed: null as string | null, of: this.props.of };

  static getDerivedStateFromError(error: unknown) {
    return { failed: error instanceof Error ? error.message : String(error) };
  }

  static getDerivedStateFromProps(props: { of: string }, state: { of: string }) {
    return props.of === state.of ? null : { failed: null, of: props.of };
  }

  render() {
    const { failed, of } = this.state;
    if (failed === null) return this.props.children;
    return (
      <div className="empty" role="alert">
        <strong>{of} could not be drawn</strong>
        {failed} What plays goes on; nothing is lost.
        <button type="button" className="plain primary" onClick={() => location.reload()}>
          Load this window again
        </button>
      </div>
    );
  }
}
