import type { ReactNode } from 'react';
import { CallError } from '../api/call.js';
import { CodeText } from '../marks/code-text.js';

/** What is the case where there is nothing else to show, and what to do next. */
export function Message({ title, children }: { readonly title: string; readonly children?: ReactNode }) {
  return (
    <section className="mx-auto my-12 max-w-xl rounded-md border border-line bg-sheet p-6">
      <h2 className="mb-2 text-head font-semibold">{title}</h2>
      <div className="space-y-2 text-soft">{children}</div>
    </section>
  );
}

export function Command({ text }: { readonly text: string }) {
  return <code className="block rounded-sm bg-paper px-2 py-1 font-mono text-ink">{text}</code>;
}

const ISSUES_SHOWN = 20;

/** An error in place of what could not be shown. */
export function ErrorMessage({ error }: { readonly error: Error }) {
  return (
    <div role="alert" className="m-4 border-l-2 border-ochre bg-ochre-wash px-3 py-2">
      <p className="font-medium">
        <CodeText text={error.message} />
      </p>
      {error instanceof CallError && error.remedy && (
        <p>
          <CodeText text={error.remedy} />
        </p>
      )}
      {error instanceof CallError && error.issues.length > 0 && (
        <ul className="mt-1 list-disc pl-5">
          {error.issues.slice(0, ISSUES_SHOWN).map((issue) => (
            <li key={`${issue.path} ${issue.line} ${issue.what}`}>
              {issue.line === undefined ? '' : `line ${issue.line}, `}
              <code className="font-mono">{issue.path}</code>: <CodeText text={issue.what} />
            </li>
          ))}
          {error.issues.length > ISSUES_SHOWN && <li>and {error.issues.length - ISSUES_SHOWN} more</li>}
        </ul>
      )}
    </div>
  );
}

export function Waiting({ what }: { readonly what: string }) {
  return (
    <p role="status" className="m-4 text-soft">
      Loading {what} …
    </p>
  );
}
