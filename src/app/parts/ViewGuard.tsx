import { Component, type ReactNode } from 'react';

interface Props {
  /** What is in view: where that changes, it is tried again. */
  at: string;
  children: ReactNode;
}

/** A view that broke takes nothing with it: the sound goes on and every edit is kept. */
export class ViewGuard extends Component<Props, { error?: unknown }> {
  override state: { error?: unknown } = {};

  static getDerivedStateFromError(error: unknown) {
    return { error: error ?? new Error('Nobody knows why.') };
  }

  override componentDidUpdate(before: Props) {
    if (before.at !== this.props.at && this.state.error !== undefined) this.setState({ error: undefined });
  }

  override render() {
    const { error } = this.state;
    if (error === undefined) return this.props.children;
    return (
      <main className="grid h-full place-items-center">
        <div role="alert" className="panel flex max-w-96 flex-col items-start gap-3">
          <h1 className="text-lg font-bold">This view stopped working</h1>
          <p>{error instanceof Error ? error.message : String(error as string)}</p>
          <p>The sound goes on, and your edits are kept.</p>
          <button className="button" onClick={() => location.reload()}>
            Load it again
          </button>
        </div>
      </main>
    );
  }
}
