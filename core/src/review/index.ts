export { FINDING_CODES, type Finding, type FindingCode } from './finding.js';
export { type ReviewOptions, review } from './review.js';
export { type Remarked, reviewTraffic } from './traffic.js';
