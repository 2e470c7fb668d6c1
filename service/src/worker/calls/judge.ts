import {
  ChunkJudge,
  type ClientBlooms,
  clientBlooms,
  type FinishedChunk,
  type ResolvedChunk,
  summariseVerdicts,
  type VerdictSummary,
} from '@jade-fence/core/replay';
import { packTable, unpackTable } from '../../log/packing.js';
import { type ScopeParts, scopeOf } from './scope.js';

/** A finished chunk, its verdicts as they are stored. */
export interface PackedChunk extends Omit<FinishedChunk, 'verdicts'> {
  readonly rows: number;
  readonly packed: Uint8Array;
  readonly summary: VerdictSummary;
  readonly clients: ClientBlooms;
}

type Judged = ReturnType<ChunkJudge['judge']>;

const judges = new Map<string, ChunkJudge>();

/** Makes ready to judge chunks of a replay, as the judge of the number among those of the replay. */
export function openJudge(run: string, scope: ScopeParts, number: number): void {
  judges.set(run, new ChunkJudge(scopeOf(scope), number));
}

/** Judges a chunk as it is stored. */
export function judgeChunk(
  run: string,
  number: number,
  packed: Uint8Array,
): PackedChunk | Extract<Judged, { readonly pending: object }> {
  const judged = judgeOf(run).judge(number, unpackTable(packed));
  return 'pending' in judged ? judged : packedChunk(judged);
}

/** Finishes a chunk that this thread judged, and of which rows have waited. */
export function resolveChunk(run: string, { number, resolved }: ResolvedChunk): PackedChunk {
  return packedChunk(judgeOf(run).resolve(number, resolved));
}

/** Lets go of what a run judged by. */
export function closeJudge(run: string): void {
  judges.delete(run);
}

function judgeOf(run: string): ChunkJudge {
  const judge = judges.get(run);
  if (judge === undefined) throw new Error(`run ${run} is not open here`);
  return judge;
}

const packedChunk = ({ number, verdicts, counts }: FinishedChunk): PackedChunk => ({
  number,
  counts,
  rows: verdicts.rows,
  packed: packTable(verdicts),
  summary: summariseVerdicts(verdicts),
  clients: clientBlooms(verdicts),
});
