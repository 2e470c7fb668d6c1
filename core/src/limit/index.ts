export { type CurvePoint, KeyPeaks } from './curve.js';
export type { KeyPart, Limit } from './limit.js';
export { formatKeyPart, readLimit } from './read.js';
export { type KeyWindow, type PeakKey, SlidingWindows, type WindowOptions } from './window.js';
