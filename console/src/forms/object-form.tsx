import type { WorkspaceBody } from '@jade-fence/contract';
import { withValue } from '@jade-fence/core/edit';
import type { ListSort } from '@jade-fence/core/list';
import type { ReactNode } from 'react';
import { ConditionsField } from '../edit/conditions-field.js';
import { alternativesOf, writtenAlternatives } from '../edit/rule-value.js';
import { ValuesField } from '../edit/values-field.js';
import { readYaml } from '../edit/yaml-value.js';
import { Choice } from '../frame/choice.js';
import { TextArea, TextField } from '../frame/field.js';
import { FormRow } from '../frame/form-row.js';
import { readGrid } from './expected-answers.js';
import { GridField } from './grid-field.js';
import { OBJECT_FIELDS, type ObjectField, orderOf } from './object-fields.js';
import { PairsField } from './pairs-field.js';
import { readWeek, writtenWeek } from './week.js';
import { WeekField } from './week-field.js';

interface ObjectFormProps {
  readonly kind: string;
  /** Whether its name is still to be given. */
  readonly isNew: boolean;
  readonly text: string;
  readonly workspace: WorkspaceBody;
  readonly onChange: (text: string) => void;
}

/** An object as a form, over its text: what a field does not change stays in it as it was written. */
export function ObjectForm({ kind, isNew, text, workspace, onChange }: ObjectFormProps) {
  const fields = OBJECT_FIELDS[kind];
  const read = readYaml(text);
  const value = 'faults' in read ? undefined : read.value;
  if (!fields || !isMap(value)) return null;
  const order = orderOf(kind);
  const set = (path: Path, next: unknown) => onChange(withValue(text, path, next, order));
  const drop = (paths: readonly Path[]) =>
    onChange(paths.reduce((left, path) => withValue(left, path, undefined, order), text));
  return (
    <div className="space-y-3">
      {isNew && (
        <TextField label="Name" required value={word(value[kind])} onChange={(name) => set([kind], name.trim())} />
      )}
      {fields.map((field) => (
        <Field key={field.key} {...{ field, value, workspace, set, drop }}>
          <span className="text-soft">It is written in a way that the form does not show: edit it as text.</span>
        </Field>
      ))}
    </div>
  );
}

type Path = readonly [string, ...string[]];
type ObjectValue = Readonly<Record<string, unknown>>;

const isMap = (value: unknown): value is ObjectValue =>
  value !== null && typeof value === 'object' && !Array.isArray(value);
const word = (value: unknown): string => (value === null || value === undefined ? '' : String(value));
const isWord = (value: unknown): boolean => value === null || typeof value !== 'object';
const some = (text: string): string | undefined => (text === '' ? undefined : text);

interface FieldProps {
  readonly field: ObjectField;
  readonly value: ObjectValue;
  readonly workspace: WorkspaceBody;
  readonly set: (path: Path, next: unknown) => void;
  readonly drop: (paths: readonly Path[]) => void;
  /** What is shown for a value that the form cannot show. */
  readonly children: ReactNode;
}

function Field({ field, value, workspace, set, drop, children }: FieldProps) {
  const { key, label, about } = field;
  const own = value[key];
  const row = (shown: ReactNode) => (
    <FormRow title={label} about={about}>
      {shown}
    </FormRow>
  );
  switch (field.as) {
    case 'line':
      if (!isWord(own)) return row(children);
      return (
        <TextField
          label={about ? `${label}. ${about}` : label}
          wide
          prose={field.prose ?? false}
          placeholder={field.hint ?? ''}
          value={word(own)}
          onChange={(next) => set([key], some(next))}
        />
      );
    case 'text':
      if (!isWord(own)) return row(children);
      return (
        <TextArea
          label={`${label}. ${about}`}
          value={word(own)}
          rows={5}
          prose
          onChange={(next) => set([key], some(next))}
        />
      );
    case 'number':
      if (!isWord(own)) return row(children);
      return (
        <TextField
          label={about ? `${label}. ${about}` : label}
          type="number"
          min={field.from}
          max={field.to}
          value={word(own)}
          onChange={(next) => set([key], next === '' ? undefined : Number(next))}
        />
      );
    case 'zone':
      if (!isWord(own)) return row(children);
      return <ZoneField label={label} value={word(own)} onChange={(next) => set([key], next)} />;
    case 'name':
      return (
        <div className="flex flex-wrap items-center gap-2">
          <Choice
            label={label}
            value={word(own)}
            empty="none"
            options={[
              { value: '', label: 'none' },
              ...namesOf(field.kind, workspace).map((name) => ({ value: name, label: name })),
            ]}
            onChange={(next) => set([key], some(next))}
          />
          {about && <span className="text-soft">{about}</span>}
        </div>
      );
    case 'sort':
      return <Choice label={label} value={word(own)} options={SORTS} onChange={(next) => set([key], next)} />;
    case 'lists':
    case 'words': {
      const help = field.as === 'words' ? field.help : { field: key, hint: 'names of lists', lists: word(value.of) };
      const words = [own ?? []].flat();
      if (!words.every(isWord)) return row(children);
      return row(
        <ValuesField
          help={help}
          values={words.map(word)}
          workspace={workspace}
          fresh={false}
          invertible={false}
          onChange={(next) => set([key], next.length === 0 ? undefined : next)}
        />,
      );
    }
    case 'conditions':
      return row(
        <ConditionsField
          label={key}
          none="Nothing is asked: every request is of it."
          value={alternativesOf(own)}
          workspace={workspace}
          onChange={(next) => set([key], writtenAlternatives(next))}
        />,
      );
    case 'week': {
      const week = readWeek(own);
      return row(week ? <WeekField week={week} onChange={(next) => set([key], writtenWeek(next))} /> : children);
    }
    case 'pairs':
      if (!isMap(own ?? {}) || !Object.values(own ?? {}).every((each) => [each].flat().every(isWord)))
        return row(children);
      return row(
        <PairsField
          label={label.toLowerCase()}
          pairs={Object.entries(own ?? {}).map(([name, each]) => [name, [each].flat().map(word).join(' ')] as const)}
          ofKey={field.ofKey}
          ofValue={field.ofValue}
          onChange={(name, next) => set([key, name], next === undefined ? undefined : writtenPair(key, next))}
        />,
      );
    case 'grid': {
      const grid = readGrid(value.destinations, own);
      return row(
        grid ? (
          <GridField
            grid={grid}
            probes={namesOf('probe', workspace)}
            onSet={set}
            onDropDestination={(name) =>
              drop([['destinations', name], ...grid.rows.map(([probe]) => ['expect', probe, name] as const)])
            }
          />
        ) : (
          children
        ),
      );
    }
  }
}

/** Several spans of a day are a list; all else is as it is typed. */
const writtenPair = (key: string, typed: string): unknown => {
  const words = typed.split(/[\s,]+/);
  return key === 'except' && words.length > 1 ? words : typed;
};

/** The sorts of lists, and what their entries are. */
const SORTS = Object.entries({
  addresses: 'addresses, networks and ranges',
  countries: 'codes of countries',
  domains: 'hosts',
  urls: 'hosts with paths',
  users: 'users and groups',
  agents: 'client software',
} satisfies Readonly<Record<ListSort, string>>).map(([value, detail]) => ({ value, label: value, detail }));

const namesOf = (kind: string, { objects, policies }: WorkspaceBody): readonly string[] =>
  kind === 'policy'
    ? policies.map(({ policy }) => policy)
    : objects.filter((each) => each.kind === kind).map(({ name }) => name);

interface ZoneFieldProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}

function ZoneField({ label, value, onChange }: ZoneFieldProps) {
  return (
    <>
      <TextField label={label} list="time-zones" placeholder="Europe/Lisbon" value={value} onChange={onChange} />
      <datalist id="time-zones">
        {Intl.supportedValuesOf('timeZone').map((zone) => (
          <option key={zone} value={zone} />
        ))}
      </datalist>
    </>
  );
}
