const MIB = 1024 * 1024;
/** Before so long a rate would only jump. */
const SETTLED_MS = 1000;

/** How far a file is sent: its share, how fast, and how long it will still take; then that it is being stored. */
export function sendingText(share: number, bytes: number, elapsedMs: number): string {
  if (share >= 1) return 'storing …';
  const sent = `${Math.round(share * 100)} % of ${mib(bytes)} sent`;
  if (elapsedMs < SETTLED_MS || share === 0) return sent;
  const seconds = elapsedMs / 1000;
  const left = Math.ceil((seconds / share) * (1 - share));
  return `${sent}, ${mib((bytes * share) / seconds)} a second, ${left} s left`;
}

const mib = (bytes: number): string => `${bytes < 10 * MIB ? (bytes / MIB).toFixed(1) : Math.round(bytes / MIB)} MiB`;
