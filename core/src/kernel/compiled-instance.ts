import type { KernelCalls, KernelInstance } from './calls.js';
import { COMPILED } from './compiled.js';

/** The compiled module; false where the host compiles none. */
let module: WebAssembly.Module | false | undefined;

/** A new instance of the compiled loops; undefined where the host compiles no WebAssembly. */
export function compiledInstance(): KernelInstance | undefined {
  module ??= compile();
  if (module === false) return undefined;
  const { exports } = new WebAssembly.Instance(module, { env: { abort } });
  return { calls: exports as unknown as KernelCalls, memory: exports.memory as WebAssembly.Memory };
}

function compile(): WebAssembly.Module | false {
  try {
    return new WebAssembly.Module(Uint8Array.from(atob(COMPILED), (char) => char.charCodeAt(0)));
  } catch {
    // Nothing else depends on it: the plain loops give the same, later.
    return false;
  }
}

/** The loops end this way when there is no memory left. */
function abort(): never {
  throw new RangeError('No memory left for a replay. Run fewer replays at once.');
}
