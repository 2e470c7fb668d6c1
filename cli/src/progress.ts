import { Presets, SingleBar } from 'cli-progress';
import type { Terminal } from './output/terminal.js';

/** A bar that is drawn where a person watches, and nowhere else. */
export interface Progress {
  /** Tells how much is done of how much; an unknown whole draws no share. */
  update(done: number, whole: number | undefined): void;
  stop(): void;
}

/** Told in bytes, a bar counts these. */
const MIB = 1024 ** 2;

/** Starts a bar. With the unit `MiB` it is given bytes. */
export function startProgress(
  terminal: Terminal,
  what: string,
  unit: 'MiB' | 'requests' | 'hosts' | 'parts',
): Progress {
  const stream = terminal.progress;
  if (!stream) return { update: () => undefined, stop: () => undefined };
  const format = `${what} {bar} {percentage} %  {value} of {total} ${unit}  {duration_formatted}, {eta_formatted} left`;
  const bar = new SingleBar(
    { format, stream, clearOnComplete: true, hideCursor: true, noTTYOutput: false },
    Presets.shades_classic,
  );
  let started = false;
  const counted = (value: number) => (unit === 'MiB' ? Math.ceil(value / MIB) : value);
  return {
    update: (doneNow, wholeNow) => {
      const done = counted(doneNow);
      const whole = wholeNow === undefined ? undefined : counted(wholeNow);
      if (!started) bar.start(whole ?? done, done);
      else bar.setTotal(whole ?? done);
      started = true;
      bar.update(done);
    },
    stop: () => bar.stop(),
  };
}
