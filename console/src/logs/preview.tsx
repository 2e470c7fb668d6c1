import { useEffect, useState } from 'react';
import { useWhole } from '../api/fetching.js';
import { Choice } from '../frame/choice.js';

interface PreviewProps {
  readonly file: File;
  /** The column of each field, when a mapping gives it. */
  readonly columns: Readonly<Record<string, string>>;
  readonly onColumns: (columns: Readonly<Record<string, string>>) => void;
  /** The mapping whose columns and time zone are the defaults; empty for none. */
  readonly mapping: string;
  readonly onMapping: (name: string) => void;
}

const SAMPLE = 16 * 1024;
const LINES = 5;
/** The fields that a log mostly has. */
const FIELDS = ['time', 'peer', 'method', 'host', 'path', 'url', 'status', 'user', 'agent', 'bytes'];

/** The first lines of a file, and where its columns have names, which field each of them is. */
export function Preview({ file, columns, onColumns, mapping, onMapping }: PreviewProps) {
  const [start, setStart] = useState('');
  const kept = useWhole('GET /mappings').data?.mappings ?? [];
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
  const packed = start.startsWith('\u001f');
  const lines = start.split('\n').slice(0, LINES);
  const header = headerOf(lines[0] ?? '');
  return (
    <>
      {packed ? (
        <p className="text-soft">It is packed; its lines are seen when it is read.</p>
      ) : (
        <pre className="max-h-32 overflow-hidden border border-line bg-sheet p-2 font-mono">{lines.join('\n')}</pre>
      )}
      {header && kept.length > 0 && (
        <Choice
          label="Columns as in"
          value={mapping}
          options={[
            { value: '', label: 'no mapping' },
            ...kept.map(({ name, columns: of }) => ({ value: name, label: name, detail: columnsText(of) })),
          ]}
          onChange={(name) => {
            onMapping(name);
            onColumns(kept.find((each) => each.name === name)?.columns ?? {});
          }}
        />
      )}
      {header && (
        <div className="flex flex-wrap gap-3">
          {FIELDS.map((field) => (
            <Choice
              key={field}
              label={field}
              value={columns[field] ?? ''}
              options={[
                { value: '', label: header.includes(field) ? `${field} (by its name)` : 'by its name' },
                ...header.map((value) => ({ value, label: value })),
              ]}
              onChange={(column) => {
                const { [field]: _, ...others } = columns;
                onColumns(column === '' ? others : { ...others, [field]: column });
              }}
            />
          ))}
        </div>
      )}
    </>
  );
}

const columnsText = (columns: Readonly<Record<string, string>>): string =>
  Object.entries(columns)
    .map(([field, column]) => `${field} from ${column}`)
    .join(', ');

/** The names of columns, where the first line looks like a header of CSV. */
function headerOf(line: string): string[] | undefined {
  if (/^[{#[]/.test(line)) return undefined;
  const delimiter = [',', ';', '\t'].find((each) => line.split(each).length > 2);
  if (delimiter === undefined || /\[\d/.test(line)) return undefined;
  return line.split(delimiter).map((name) => name.trim().replace(/^"|"$/g, ''));
}
