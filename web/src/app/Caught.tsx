import { Component, type ReactNode } from "react";

type Props = { at?: string; children: ReactNode };

/** A page that fails by a fault of ours says so in its place; the strip and other places stay. */
export class Caught extends Component<Props> {
  override state = { failed: false };
  static getDerivedStateFromError = () => ({ failed: true });
  override componentDidUpdate(before: Props) {
    if (before.at !== this.props.at) this.setState({ failed: false });
  }
  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <main className="p-8">
        <div role="alert" className="mb-3 grid gap-3">
          <h1 className="text-2xl font-semibold">This page failed</h1>
          <p>What was stored is kept. Tell your planner what you did last.</p>
        </div>
        <a href="." className="underline">
          Load Today
        </a>
      </main>
    );
  }
}
