import type { KernelCalls, KernelInstance, ScanCalls } from './calls.js';
import { COMPILED } from './compiled.js';

/** The compiled module; false where the host compiles none. */
let module: WebAssembly.Module | false | undefined;

/** A new instance of the compiled loops; undefined where the host compiles no WebAssembly. */
export function compiledInstance(): KernelInstance | undefined {
  module ??= compile();
  if (module === false) return undefined;
  const { exports } = new WebAssembly.Instance(module, { env: { abort: noMemory } });
  const { memory, ...calls } = exports;
  const named = Object.entries(calls).map(([name, call]) => [name, refusing(call as (...given: number[]) => number)]);
  const { scanJson, scanPattern, scanCombined, ...others } = Object.fromEntries(named) as KernelCalls & ScanCalls;
  return { calls: others, scan: { scanJson, scanPattern, scanCombined }, memory: memory as WebAssembly.Memory };
}

/** The call, which says why it could not be done. Nothing but a lack of memory makes the loops trap. */
const refusing =
  (call: (...given: number[]) => number) =>
  (...given: number[]): number => {
    try {
      return call(...given);
    } catch (error) {
      if (error instanceof WebAssembly.RuntimeError) noMemory(error);
      throw error;
    }
  };

function compile(): WebAssembly.Module | false {
  try {
    return new WebAssembly.Module(Uint8Array.from(atob(COMPILED), (char) => char.charCodeAt(0)));
  } catch {
    // Nothing else depends on it: the plain loops give the same, later.
    return false;
  }
}

function noMemory(cause?: unknown): never {
  throw new RangeError('No memory left for a replay or an import. Run fewer at once, or replays of fewer rules.', {
    cause,
  });
}
