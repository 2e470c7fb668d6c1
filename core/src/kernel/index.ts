export type { KernelCalls, KernelInstance, ScanCalls } from './calls.js';
export { compiledInstance } from './compiled-instance.js';
export { Kernel } from './kernel.js';
export { plainInstance } from './plain/plain-instance.js';
