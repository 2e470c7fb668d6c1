export { Live, type LiveDecision } from './live.js';
export { nextExpiry } from './next-expiry.js';
