import type { KernelInstance } from '../calls.js';
import { plainArenas } from './arenas.js';
import { classesOfFour } from './classes-of-four.js';
import { classesOfSix } from './classes-of-six.js';
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
      classesOfFour: (...given) => classesOfFour(memory, ...given),
      classesOfSix: (...given) => classesOfSix(memory, ...given),
      ...plainArenas(memory),
      ...plainRows(memory),
      ...plainCounts(memory),
    },
  };
}
