import { Component, type ReactNode } from 'react';
import { Button } from './button.js';
import { Message } from './message.js';

interface BoundaryProps {
  /** Where one is: a page that failed is drawn anew on the next. */
  readonly place: string;
  readonly children: ReactNode;
}

interface Failed {
  readonly error: Error | undefined;
  readonly place: string;
}

/** Shows what went wrong in place of a page that cannot be drawn; the frame around it stays. */
export class ErrorBoundary extends Component<BoundaryProps, Failed> {
  override state: Failed = { error: undefined, place: this.props.place };

  static getDerivedStateFromError(error: unknown): Partial<Failed> {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  static getDerivedStateFromProps({ place }: BoundaryProps, before: Failed): Partial<Failed> | null {
    return place === before.place ? null : { error: undefined, place };
  }

  override render(): ReactNode {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <main role="alert">
        <Message title="This page cannot be shown">
          <p>{error.message}</p>
          <p>What you had begun to write is kept. Loading the console again mostly helps, above all after an update.</p>
          <Button main onClick={() => location.reload()}>
            Load again
          </Button>
        </Message>
      </main>
    );
  }
}
