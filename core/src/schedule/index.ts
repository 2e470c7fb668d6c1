export { instantIn } from './clock.js';
export { scheduleHolds, spansOf } from './holds.js';
export { isZone, readSchedule } from './read.js';
export { DAYS, type DaySpan, formatSpan, type Schedule, spanMinutes } from './schedule.js';
export { scheduleSentence } from './sentence.js';
