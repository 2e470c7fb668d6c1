import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';

/** An edit that was made here: the texts of the object before and after. */
interface Made {
  readonly before: string;
  readonly after: string;
}

/** By kind and name of the object, the last one last. */
const made = new Map<string, readonly Made[]>();
const MOST_KEPT = 50;

/** What an object is to say. */
interface NewText {
  /** The text; or what finds it, undefined where nothing is to be changed. */
  readonly text: string | (() => Promise<string | undefined>);
  /** The version that the text was made from. Default: the one that is shown. */
  readonly version?: number;
  /** Called as soon as the draft has it, whatever is done next. */
  readonly onKept?: () => void;
  /** Whether it takes the last edit back. Default false. */
  readonly isUndo?: boolean;
}

/** An object of the draft, as it is shown. */
interface Shown {
  readonly kind: string;
  readonly name: string;
  readonly text: string;
  readonly version: number;
}

/** Ways to edit one object of the draft. Each edit can be taken back. */
export function useObjectEdit({ kind, name, text: shown, version: own }: Shown) {
  const key = `${kind} ${name}`;
  const put = useDeed(async ({ text, version = own, onKept, isUndo = false }: NewText) => {
    const next = typeof text === 'string' ? text : await text();
    if (next === undefined) return undefined;
    const stored = await call('PUT /objects/:kind/:name', { params: { kind, name }, body: { text: next }, version });
    const kept = made.get(key) ?? [];
    if (isUndo) made.set(key, kept.slice(0, -1));
    // As it was stored, which may end otherwise than it was sent.
    else made.set(key, [...kept, { before: shown, after: stored.text }].slice(-MOST_KEPT));
    onKept?.();
    return stored;
  });
  const last = made.get(key)?.at(-1);
  return {
    put,
    /** Undefined where nothing was edited here, or others have changed the object since: that would take theirs back too. */
    undo:
      last === undefined || last.after !== shown ? undefined : () => put.mutate({ text: last.before, isUndo: true }),
  };
}

export type ObjectEdit = ReturnType<typeof useObjectEdit>;
