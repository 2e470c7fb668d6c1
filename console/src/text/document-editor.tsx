import { lazy, Suspense } from 'react';
import { useWorkspace } from '../api/queries.js';
import { TextArea } from '../frame/field.js';
import type { TextProblem } from './code-mirror.js';
import { namesAt } from './names-at.js';
import { optionsAt, rootsOf } from './schema-options.js';
import { useSchema } from './use-schema.js';

/** Fetched when somebody writes: who only reads has no use for it. */
const CodeMirror = lazy(() => import('./code-mirror.js'));

interface DocumentEditorProps {
  readonly label: string;
  /** What the text is: a document of a kind, or one rule. */
  readonly kind: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly problems: readonly TextProblem[];
  readonly rows?: number;
}

/** Texts that are longer than this, such as lists of thousands of entries, are written in a plain field. */
const MOST_LETTERS = 1_000_000;

/** A document as text: with what can be written where, and what is wrong at the line where it is. */
export function DocumentEditor({ label, kind, value, onChange, problems, rows = 8 }: DocumentEditorProps) {
  const schema = useSchema();
  const workspace = useWorkspace().data;
  const plain = <TextArea {...{ label, value, onChange, rows }} />;
  if (value.length > MOST_LETTERS) return plain;
  return (
    <Suspense fallback={plain}>
      <div>
        <span aria-hidden="true" className="block text-soft">
          {label}
        </span>
        <CodeMirror
          {...{ label, value, onChange, problems, rows }}
          optionsAt={(place) => [
            ...(schema ? optionsAt(schema, rootsOf(schema, kind), place) : []),
            ...(workspace ? namesAt(place, workspace) : []),
          ]}
        />
      </div>
    </Suspense>
  );
}
