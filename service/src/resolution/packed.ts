import { gunzipSync, gzipSync } from 'node:zlib';
import {
  type Answer,
  type AnswerTable,
  allAnswers,
  compileAnswers,
  holdsUntil,
  type PackedAnswers,
  packAnswers,
  type Resolutions,
  unpackAnswers,
} from '@jade-fence/core/resolution';

/** No set of answers is this large; a compressed bomb would be. */
const LARGEST = 1024 * 1024 * 1024;

/** Answers as a load keeps them. */
export const pack = (answers: Iterable<Answer>): Buffer => gzipSync(JSON.stringify(packAnswers(answers)), { level: 5 });

/** The answers of a load. */
export function unpack(data: Uint8Array): Answer[] {
  const packed = JSON.parse(gunzipSync(data, { maxOutputLength: LARGEST }).toString()) as PackedAnswers[];
  return [...unpackAnswers(packed)];
}

/** Compiles the answers of loads, the oldest first. Takes seconds for a million hosts. */
export function compileLoads(loads: readonly Uint8Array[]): AnswerTable {
  return compileAnswers(inOrder(loads));
}

function* inOrder(loads: readonly Uint8Array[]): Generator<Answer> {
  for (const load of loads) yield* unpack(load);
}

/** An answer of a server is of use for so long after it has run out; nobody has asked for the host since then. */
const STALE_MS = 30 * 86_400_000;
/** The most answers of servers that are kept: whoever asks for made-up names makes as many as they like. */
const MOST_OF_SERVERS = 1_000_000;

/** Makes one load of several, without answers of servers that are long out of date. */
export function foldLoads(
  loads: readonly Uint8Array[],
  now: number,
): { readonly data: Uint8Array; readonly hosts: number } {
  const resolutions: Resolutions = { table: compileLoads(loads), later: new Map() };
  const [given, ofServers]: [Answer[], Answer[]] = [[], []];
  for (const answer of allAnswers(resolutions)) (answer.from.kind === 'dns' ? ofServers : given).push(answer);
  const alive = ofServers
    .filter((answer) => (holdsUntil(answer) ?? now) + (answer.addresses.length === 0 ? 0 : STALE_MS) > now)
    .sort((a, b) => b.seen - a.seen)
    .slice(0, MOST_OF_SERVERS);
  const kept = [...given, ...alive];
  return { data: pack(kept), hosts: kept.length };
}
