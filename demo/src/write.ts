import { once } from 'node:events';
import type { Writable } from 'node:stream';
import type { LineFormat } from './formats.js';
import { type TrafficOptions, traffic } from './traffic.js';

const LINES_AT_ONCE = 2_000;

/** Writes the demo's log, in pieces, waiting for the stream where it is slow; memory stays flat at any length. */
export async function writeTraffic(options: TrafficOptions, format: LineFormat, to: Writable): Promise<void> {
  let lines: string[] = [];
  const flush = async () => {
    const room = to.write(`${lines.join('\n')}\n`);
    lines = [];
    if (!room) await once(to, 'drain');
  };
  for (const entry of traffic(options)) {
    lines.push(format(entry));
    if (lines.length === LINES_AT_ONCE) await flush();
  }
  if (lines.length > 0) await flush();
}
