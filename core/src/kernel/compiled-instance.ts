import type { KernelCalls, KernelInstance } from './calls.js';
import { COMPILED } from './compiled.js';

let compiled: WebAssembly.Module | undefined;
let isRefused = false;

/** A new instance of the compiled loops; undefined where the host compiles no WebAssembly. */
export function compiledInstance(): KernelInstance | undefined {
  if (isRefused) return undefined;
  try {
    compiled ??= new WebAssembly.Module(Uint8Array.from(atob(COMPILED), (char) => char.charCodeAt(0)));
    const { exports } = new WebAssembly.Instance(compiled, { env: { abort } });
    return { calls: exports as unknown as KernelCalls, memory: exports.memory as WebAssembly.Memory };
  } catch {
    // Nothing else depends on it: the plain loops give the same, later.
    isRefused = true;
    return undefined;
  }
}

/** The loops end this way when there is no memory left. */
function abort(): never {
  throw new RangeError('No memory left for a replay. Run fewer replays at once.');
}
