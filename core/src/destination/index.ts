export { AnswersOfLog, type HostAddress, hostAddressesIn } from './answers-of-log.js';
export { HostsOfLog, hostsIn } from './hosts-of-log.js';
export { type CountedRemedy, type Remedy, RemedyCounts, type RemedyKind, remediesFor } from './remedies.js';
