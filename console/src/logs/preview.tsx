import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useEffect, useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useWhole } from '../api/fetching.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { asText, PatternByExample } from './pattern-by-example.js';
import { ReadAs } from './read-as.js';
import { type Shape, shapeOf } from './shape.js';

/** How a file is to be read, as far as somebody said so. */
export interface How {
  /** The place of each field that is not found by its name. */
  readonly columns: Readonly<Record<string, string>>;
  /** The shape of lines of text; empty for none. */
  readonly pattern: string;
  /** The saved mapping that it begins with; empty for none. */
  readonly mapping: string;
}

export const AS_IT_IS: How = { columns: {}, pattern: '', mapping: '' };

interface PreviewProps {
  readonly file: File;
  readonly how: How;
  readonly onHow: (how: How) => void;
}

const SAMPLE = 16 * 1024;
const LINES = 5;
/** The fields that a log mostly has. */
const FIELDS = ['time', 'peer', 'method', 'host', 'path', 'url', 'status', 'user', 'agent', 'bytes'];
/** What objects have beside: an object of headers, too. */
const JSON_FIELDS = [...FIELDS, 'forwarded-for', 'destination', 'header.*'];

/** The first lines of a file, which field is where in them, and what they are read as. */
export function Preview({ file, how, onHow }: PreviewProps) {
  const start = useStart(file);
  const shape = shapeOf(start);
  const kept = useWhole('GET /mappings').data?.mappings ?? [];
  const shown = useDeferredValue(how);
  const text = wholeLines(start);
  const { columns, pattern, mapping } = shown;
  const found = useQuery({
    queryKey: ['preview', text, columns, pattern, mapping],
    queryFn: () => {
      const body = { text, columns, pattern: pattern || null, mapping: mapping || undefined };
      return call('POST /mappings/preview', { body });
    },
    enabled: text !== '' && shape?.type !== 'packed',
    placeholderData: (before) => before,
  });
  return (
    <>
      {shape?.type === 'packed' ? (
        <p className="text-soft">It is packed; its lines are seen when it is read.</p>
      ) : (
        <pre className="max-h-32 overflow-hidden border border-line bg-sheet p-2 font-mono">
          {start.split('\n').slice(0, LINES).join('\n')}
        </pre>
      )}
      {shape && shape.type !== 'packed' && kept.length > 0 && (
        <Choice
          label="Read as by"
          value={how.mapping}
          options={[
            { value: '', label: 'no mapping' },
            ...kept.map((each) => ({ value: each.name, label: each.name, detail: each.pattern ?? placesText(each) })),
          ]}
          onChange={(name) => {
            const chosen = kept.find((each) => each.name === name);
            onHow({ columns: chosen?.columns ?? {}, pattern: chosen?.pattern ?? '', mapping: name });
          }}
        />
      )}
      {how.mapping !== '' && <ForgetMapping name={how.mapping} onForgotten={() => onHow({ ...how, mapping: '' })} />}
      {shape && <Fields shape={shape} how={how} onHow={onHow} isRead={found.data?.lines[0]?.request !== null} />}
      {isSaid(how) && <KeepMapping how={how} />}
      {found.error && <ErrorMessage error={found.error} />}
      {found.data && !found.error && <ReadAs found={found.data} />}
    </>
  );
}

/** Where fields are, by the shape of the file. */
function Fields({
  shape,
  how,
  onHow,
  isRead,
}: Omit<PreviewProps, 'file'> & { readonly shape: Shape; readonly isRead: boolean }) {
  if (shape.type === 'packed') return null;
  if (shape.type === 'text') {
    // Lines that are read as they are need no pattern.
    if (isRead && how.pattern === '') return null;
    const pattern = how.pattern === '' ? asText(shape.example) : how.pattern;
    return (
      <PatternByExample
        example={shape.example}
        pattern={pattern}
        onPattern={(next) => onHow({ ...how, pattern: next === asText(shape.example) ? '' : next })}
      />
    );
  }
  return (
    <div className="flex flex-wrap gap-3">
      {(shape.type === 'json' ? JSON_FIELDS : FIELDS).map((field) => (
        <Choice
          key={field}
          label={field}
          value={how.columns[field] ?? ''}
          options={[
            { value: '', label: shape.places.includes(field) ? `${field} (by its name)` : 'by its name' },
            ...shape.places.map((value) => ({ value, label: value })),
          ]}
          onChange={(column) => {
            const { [field]: _, ...others } = how.columns;
            onHow({ ...how, columns: column === '' ? others : { ...others, [field]: column } });
          }}
        />
      ))}
    </div>
  );
}

const isSaid = ({ columns, pattern }: How): boolean => pattern !== '' || Object.keys(columns).length > 0;

/** Keeps what was said of the file by a name, for the next of its kind. */
function KeepMapping({ how: { columns, pattern } }: { readonly how: How }) {
  const [name, setName] = useState('');
  const keep = useDeed(() =>
    call('PUT /mappings/:name', { params: { name }, body: { columns, pattern: pattern || null } }),
  );
  return (
    <span className="flex items-end gap-2">
      <TextField label="Name of the mapping" value={name} onChange={setName} />
      <Button disabled={name === '' || keep.isPending} onClick={() => keep.mutate(undefined)}>
        Keep it for other logs
      </Button>
      {keep.isSuccess && <span role="status">Kept as {keep.data.name}.</span>}
      {keep.error && <ErrorMessage error={keep.error} />}
    </span>
  );
}

function useStart(file: File): string {
  const [start, setStart] = useState('');
  useEffect(() => {
    let wanted = true;
    file
      .slice(0, SAMPLE)
      .text()
      .then((text) => wanted && setStart(text));
    return () => {
      wanted = false;
    };
  }, [file]);
  return start;
}

/** Without the line that the sample ends in the middle of. */
const wholeLines = (start: string): string =>
  start.length < SAMPLE ? start : start.slice(0, start.lastIndexOf('\n') + 1 || undefined);

const placesText = ({ columns }: Pick<How, 'columns'>): string =>
  Object.entries(columns)
    .map(([field, place]) => `${field} from ${place}`)
    .join(', ');

interface ForgetMappingProps {
  readonly name: string;
  readonly onForgotten: () => void;
}

/** Lets go of a mapping that is kept by name; logs that were read by it stay as they are. */
function ForgetMapping({ name, onForgotten }: ForgetMappingProps) {
  const forget = useDeed(() => call('DELETE /mappings/:name', { params: { name } }));
  return (
    <>
      <AskButton
        consequence={`The mapping ${name} is kept no more. Logs that were read by it stay as they are.`}
        does={`Forget ${name}`}
        onConfirm={() => forget.mutate(undefined, { onSuccess: onForgotten })}
      >
        Forget this mapping
      </AskButton>
      {forget.error && <ErrorMessage error={forget.error} />}
    </>
  );
}
