import type { ImportBody } from '@jade-fence/contract';

const MIB = 1024 * 1024;
/** Before so long a rate would only jump. */
const SETTLED_MS = 1000;

/** How far a file is sent: its share, how fast, and how long it will still take; then that the service takes it in. */
export function sendingText(share: number, bytes: number, elapsedMs: number): string {
  if (share >= 1) return 'taking it in …';
  const sent = `${Math.round(share * 100)} % of ${mib(bytes)} sent`;
  if (elapsedMs < SETTLED_MS || share === 0) return sent;
  const seconds = elapsedMs / 1000;
  const left = Math.ceil((seconds / share) * (1 - share));
  return `${sent}, ${mib((bytes * share) / seconds)} a second, ${left} s left`;
}

/** How far an import is, and for how long it will go on. */
export function readingText({ state, held, done, total, secondsLeft }: Reading): string {
  if (state === 'waiting') return held ? 'waiting for its turn' : 'being sent';
  const share = total ? `${Math.floor((done / total) * 100)} % of ${mib(total)} read` : `${mib(done)} read`;
  return secondsLeft === null ? share : `${share}, ${secondsLeft} s left`;
}

type Reading = Pick<ImportBody, 'state' | 'held' | 'done' | 'total' | 'secondsLeft'>;

const mib = (bytes: number): string => `${bytes < 10 * MIB ? (bytes / MIB).toFixed(1) : Math.round(bytes / MIB)} MiB`;
