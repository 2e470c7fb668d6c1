export type { Entry } from './entry.js';
export { LINE_FORMATS, type LineFormat, type LineFormatName } from './formats.js';
export { TRAFFIC_DEFAULTS, type TrafficOptions, traffic } from './traffic.js';
export { writeTraffic } from './write.js';
