import { Run } from '@jade-fence/core/replay';
import { gardenLines, preparedGarden } from './garden.js';
import type { Pair } from './measure.js';
import { readChunks } from './reading.js';

const REQUESTS = 100_000;

/** A replay of the demo, report included, against `JSON.parse` of the same log alone. */
export function replayPair(): Pair {
  const prepared = preparedGarden();
  const lines = gardenLines(REQUESTS, 'json-lines');
  const chunks = readChunks(Buffer.from(lines.join('\n')));
  return {
    name: 'replay-demo',
    unit: 'ms for 100,000 requests',
    figure: () => {
      const run = new Run(prepared);
      for (const chunk of chunks) run.chunk(chunk);
      run.report();
    },
    floorName: 'JSON.parse alone',
    floor: () => {
      for (const line of lines) JSON.parse(line);
    },
  };
}
