import { setTimeout as sleep } from 'node:timers/promises';
import { gardenPieces } from './garden.js';
import { type Figure, figureOf, timed } from './measure.js';
import { residentOf } from './resident.js';
import { benchService } from './service.js';
import { floor, floorName, REQUESTS } from './through-service.js';

const TIMES = 10;
const REPLAYS = 10;
const IDLE_MS = 150_000;
const ASKED_MB = 400;
const LOG = 'ten-million';

/** Ten replays of 10 million requests through the service, and its memory when it is idle after them. */
export async function tenMillion(): Promise<Figure[]> {
  const service = await benchService();
  await service.upload(LOG, gardenPieces(TIMES * REQUESTS));
  const figures: number[] = [];
  const floors: number[] = [];
  for (let replay = 0; replay < REPLAYS; replay++) {
    figures.push(await timed(() => service.replay(LOG)));
    // The floor parses a tenth of the requests: all of them do not fit into memory.
    floors.push(TIMES * (await timed(floor)));
  }
  await sleep(IDLE_MS);
  const memory = { name: 'idle-after-replays', unit: 'MB, ten replays of 10 million requests', floorName: 'target' };
  return [
    figureOf({ name: 'replay-service-10m', unit: 'ms for 10,000,000 requests', floorName }, figures, floors),
    figureOf(memory, [residentOf(service.pid) / 1e6], [ASKED_MB]),
  ];
}
