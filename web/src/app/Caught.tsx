import { Component } from "react";

/** Says so where a screen breaks, and offers the way out; the rail stays. */
export class Caught extends Component<{ children: React.ReactNode }, { broken: boolean }> {
  state = { broken: false };
  static getDerivedStateFromError() {
    return { broken: true };
  }
  render() {
    if (!this.state.broken) return this.props.children;
    return (
      <div role="alert" className="pt-16 text-center">
        <h1 className="title text-2xl">This screen broke</h1>
        <p className="mt-2 text-ink2">What is saved is safe.</p>
        <button type="button" className="btn mt-4" onClick={() => location.reload()}>
          Open it again
        </button>
      </div>
    );
  }
}
