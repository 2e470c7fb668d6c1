import { CodeText } from '../marks/code-text.js';

interface Problem {
  readonly path: string;
  readonly what: string;
  readonly line?: number | undefined;
  readonly remedy?: string;
}

const SHOWN = 12;

/** What is wrong with what is being written: where, what, and what would be right. */
export function Problems({ problems }: { readonly problems: readonly Problem[] }) {
  if (problems.length === 0) return null;
  return (
    <div role="alert" className="border-l-2 border-ochre bg-ochre-wash px-3 py-1">
      <ul>
        {problems.slice(0, SHOWN).map(({ line, path, what, remedy }) => (
          <li key={`${line} ${path} ${what}`}>
            {line !== undefined && `line ${line}`}
            {line !== undefined && path !== '' && ', '}
            <code className="font-mono">{path}</code>
            {(line !== undefined || path !== '') && ': '}
            <CodeText text={what} />. {remedy && <CodeText text={remedy} />}
          </li>
        ))}
      </ul>
      {problems.length > SHOWN && <p>and {problems.length - SHOWN} more</p>}
    </div>
  );
}
