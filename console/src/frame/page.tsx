import type { ReactNode } from 'react';
import { useTitle } from './title.js';

interface PageProps {
  readonly title: string;
  /** What the page is for, in a sentence. */
  readonly about?: ReactNode;
  /** What can be done with all of it. */
  readonly acts?: ReactNode;
  readonly children: ReactNode;
}

/** A page of one sheet, that scrolls as a whole. */
export function Page({ title, about, acts, children }: PageProps) {
  useTitle(title);
  return (
    <main className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-line bg-sheet px-4 py-3">
        <h1 className="text-page font-semibold">{title}</h1>
        {about && <p className="text-soft">{about}</p>}
        {acts && <span className="ml-auto flex flex-wrap items-center gap-2">{acts}</span>}
      </div>
      <div className="px-4 py-3">{children}</div>
    </main>
  );
}

/** A part of a page with its own heading. */
export function Part({
  title,
  acts,
  children,
}: {
  readonly title: string;
  readonly acts?: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <section aria-label={title} className="mb-6">
      <div className="mb-1 flex flex-wrap items-baseline gap-3">
        <h2 className="text-head font-semibold">{title}</h2>
        {acts}
      </div>
      {children}
    </section>
  );
}
