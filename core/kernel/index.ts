/*
 * The inner loops of reading logs and of replays, in AssemblyScript, compiled to WebAssembly. What each does, with the
 * shapes of what it takes, is said in `core/src/kernel/calls.ts`; the plain loops beside them are in
 * `core/src/kernel/plain/`, and the plain scanners in `core/src/log/block/`.
 */

export { arenaCount, arenaLength, intern, internRows, internRuns, newArena, releaseArena, slotOf } from './arena';
export { classesOfFour } from './classes-of-four';
export { classesOfSix } from './classes-of-six';
export { countCoded, countOutcomes, mapClasses, markClasses, writeAnswers, writeCoded } from './counts';
export { cross, gather, narrow, outcomesOf, pairClasses, scatter } from './rows';
export { scanCombined } from './scan-combined';
export { scanJson } from './scan-json';
export { scanPattern } from './scan-pattern';

export function allocate(bytes: usize): usize {
  return heap.alloc(bytes);
}

export function release(place: usize): void {
  heap.free(place);
}
