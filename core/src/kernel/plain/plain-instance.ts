import type { KernelInstance } from '../calls.js';
import { plainArenas } from './arenas.js';
import { plainClassesOfFour } from './classes-of-four.js';
import { plainClassesOfSix } from './classes-of-six.js';
import { plainCounts } from './counts.js';
import { PlainMemory } from './plain-memory.js';
import { plainRows } from './rows.js';

/** The plain loops, for hosts without WebAssembly, and to hold the compiled ones to. */
export function plainInstance(): KernelInstance {
  const memory = new PlainMemory();
  return {
    memory,
    calls: {
      allocate: (bytes) => memory.allocate(bytes),
      // Nothing is given back: it goes with the instance.
      release: () => undefined,
      classesOfFour: plainClassesOfFour(memory),
      classesOfSix: plainClassesOfSix(memory),
      ...plainArenas(memory),
      ...plainRows(memory),
      ...plainCounts(memory),
    },
  };
}
