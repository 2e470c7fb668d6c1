import type { WorkspaceBody } from '@jade-fence/contract';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';

interface ThenFieldProps {
  readonly value: unknown;
  readonly workspace: WorkspaceBody;
  readonly onChange: (value: unknown) => void;
}

/** The options of each verdict, as keys of its map. */
const ASKS: Readonly<Record<string, readonly string[]>> = {
  allow: [],
  block: ['status', 'notice'],
  redirect: ['to', 'status'],
  challenge: ['notice'],
  confirm: ['for', 'notice'],
  unlock: ['passcode', 'for', 'notice'],
  tag: ['tag'],
};

const HINTS: Readonly<Record<string, string>> = {
  status: '403',
  to: 'https://intranet.fennelhill.example/why',
  for: '8h',
  passcode: 'name of a passcode',
  notice: 'name of a notice',
  tag: 'curator, staff',
};

/** What becomes of a request that the rule matches. */
export function ThenField({ value, workspace, onChange }: ThenFieldProps) {
  const [verdict, more] = partsOf(value);
  const set = (key: string, text: string) => {
    const next = { ...more, [key]: text };
    const shown = Object.fromEntries(Object.entries(next).filter(([, each]) => each !== ''));
    onChange(writtenOf(verdict, shown));
  };
  const notices = workspace.objects.filter(({ kind }) => kind === 'notice');
  return (
    <div className="flex flex-wrap items-end gap-3">
      <Choice
        label="Then"
        value={verdict}
        options={Object.keys(ASKS).map((each) => ({ value: each, label: each }))}
        onChange={(next) => onChange(writtenOf(next, next === 'tag' ? { tag: more.tag ?? 'seen' } : defaultsOf(next)))}
      />
      {(ASKS[verdict] ?? []).map((key) =>
        key === 'notice' && notices.length > 0 ? (
          <Choice
            key={key}
            label="notice"
            value={more.notice ?? ''}
            options={[{ value: '', label: 'the usual' }, ...notices.map(({ name }) => ({ value: name, label: name }))]}
            onChange={(next) => set('notice', next)}
          />
        ) : (
          <TextField
            key={key}
            label={key}
            value={more[key] ?? ''}
            placeholder={HINTS[key] ?? ''}
            onChange={(next) => set(key, next)}
          />
        ),
      )}
    </div>
  );
}

const defaultsOf = (verdict: string): Record<string, string> =>
  verdict === 'redirect' ? { to: 'https://' } : verdict === 'unlock' ? { passcode: 'name' } : {};

function partsOf(value: unknown): [verdict: string, more: Record<string, string>] {
  if (typeof value === 'string') return [value, {}];
  if (value === null || typeof value !== 'object') return ['block', {}];
  const [verdict = 'block', inner] = Object.entries(value)[0] ?? [];
  if (verdict === 'tag') return [verdict, { tag: [inner].flat().join(', ') }];
  if (typeof inner !== 'object' || inner === null)
    return [verdict, { [verdict === 'redirect' ? 'to' : 'passcode']: String(inner) }];
  return [verdict, Object.fromEntries(Object.entries(inner).map(([key, each]) => [key, String(each)]))];
}

function writtenOf(verdict: string, more: Record<string, string>): unknown {
  if (verdict === 'tag') return { tag: (more.tag ?? '').split(/[,\s]+/).filter((word) => word !== '') };
  const keys = Object.keys(more).filter((key) => ASKS[verdict]?.includes(key));
  if (keys.length === 0) return verdict;
  if (verdict === 'redirect' && keys.length === 1 && keys[0] === 'to') return { redirect: more.to };
  const shown = keys.map((key) => [
    key,
    key === 'status' && /^\d+$/.test(more[key] ?? '') ? Number(more[key]) : more[key],
  ]);
  return { [verdict]: Object.fromEntries(shown) };
}
