import type { Context } from '../context.js';

/** Edits of the draft that were not published. */
interface LostEdits {
  /** The state of the draft that they were read of. */
  readonly draft: number;
  /** What was edited, by object and in words, with who did it. */
  readonly words: readonly string[];
}

/** The edits of one object of the draft, or of all, that going back to what was published, or to a revision, would undo. */
export async function lostEdits(
  { client }: Context,
  only: { readonly kind?: string | undefined; readonly name?: string | undefined },
  revision?: number,
): Promise<LostEdits> {
  const { draft } = await client.call('GET /draft');
  const { changes, countryData } = await client.call('GET /differences');
  // What is at a revision as it is in the draft is not touched.
  const touched =
    revision === undefined
      ? undefined
      : new Set((await client.call('GET /differences', { query: { from: String(revision) } })).changes.map(keyOf));
  const edits = changes.filter(
    (change) =>
      (only.name === undefined || (change.kind === only.kind && change.name === only.name)) &&
      (touched === undefined || touched.has(keyOf(change))),
  );
  const words = edits.flatMap(({ kind, name, change, words: shown, by }) =>
    (shown.length > 0 ? shown : [`it was ${change}`]).map((each) => `${kind} ${name}, by ${by ?? 'somebody'}: ${each}`),
  );
  return { draft, words: only.name === undefined && countryData !== null ? [...words, countryData] : words };
}

const keyOf = ({ kind, name }: { readonly kind: string; readonly name: string }): string => `${kind} ${name}`;
