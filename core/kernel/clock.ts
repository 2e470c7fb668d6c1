import { digitsAt } from './bytes';

/** How long a time is to the second, and to the millisecond. */
export const WITH_SECONDS: usize = 20;
export const WITH_MILLISECONDS: usize = 24;

const DASH: u8 = 45;
const COLON: u8 = 58;
const DOT: u8 = 46;
const LETTER_T: u8 = 116;
const LETTER_Z: u8 = 90;
/** OR a letter of ASCII with this for its lower case. */
const LOWER: u8 = 32;
const MINUTE_MS: f64 = 60_000;

/** The 16 bytes of the minute that was read last, which many lines behind each other have in common, and its instant. */
let knownFirst: u64 = 0;
let knownSecond: u64 = 0;
let minute: f64 = NaN;

/** Milliseconds since 1970 of `YYYY-MM-DDTHH:MM:SSZ`, with or without milliseconds; NaN of anything else. */
export function timeAt(at: usize, length: usize): f64 {
  if (load<u8>(at + length - 1) !== LETTER_Z || (load<u8>(at + 10) | LOWER) !== LETTER_T) return NaN;
  const seconds = secondsAt(at);
  if (length === WITH_SECONDS) return seconds;
  const milliseconds = digitsAt(at + 20, 3);
  return load<u8>(at + 19) === DOT && milliseconds >= 0 ? seconds + <f64>milliseconds : NaN;
}

/** Milliseconds since 1970 of a day and a clock with any byte between, in UTC: `YYYY-MM-DD HH:MM:SS`; NaN of others. */
export function secondsAt(at: usize): f64 {
  const first = load<u64>(at);
  const second = load<u64>(at + 8);
  if (first !== knownFirst || second !== knownSecond) {
    knownFirst = first;
    knownSecond = second;
    minute = minuteAt(at);
  }
  const seconds = digitsAt(at + 17, 2);
  return load<u8>(at + 16) === COLON && seconds >= 0 && seconds <= 59 ? minute + <f64>(seconds * 1000) : NaN;
}

function minuteAt(at: usize): f64 {
  const year = digitsAt(at, 4);
  const month = digitsAt(at + 5, 2);
  const day = digitsAt(at + 8, 2);
  const hour = digitsAt(at + 11, 2);
  const minutes = digitsAt(at + 14, 2);
  if ((year | month | day | hour | minutes) < 0 || year === 0) return NaN;
  if (load<u8>(at + 4) !== DASH || load<u8>(at + 7) !== DASH || load<u8>(at + 13) !== COLON) return NaN;
  if (hour > 23 || minutes > 59 || day < 1 || day > daysIn(year, month)) return NaN;
  return minutesUntil(year, month, day, hour, minutes) * MINUTE_MS;
}

/** How many days the month has; 0 where there is no such month. */
function daysIn(year: i32, month: i32): i32 {
  if (month < 1 || month > 12) return 0;
  if (month === 2) return year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0) ? 29 : 28;
  return month === 4 || month === 6 || month === 9 || month === 11 ? 30 : 31;
}

/** Days from 1970-01-01 to the day, as `core/src/text/time.ts` counts them. */
function daysUntil(year: i32, month: i32, day: i32): i32 {
  const years = month > 2 ? year : year - 1;
  const months = (month + 9) % 12;
  const leapDays = years / 4 - years / 100 + years / 400;
  return years * 365 + leapDays + (months * 153 + 2) / 5 + day - 1 - 719_468;
}

/** Minutes from 1970 on, which until the year 9999 are more than 32 bits hold. */
function minutesUntil(year: i32, month: i32, day: i32, hour: i32, minutes: i32): f64 {
  return <f64>daysUntil(year, month, day) * 1440 + <f64>(hour * 60 + minutes);
}

const SLASH: u8 = 47;
const PLUS: u8 = 43;
const BLANK: u8 = 32;

/** How long a time of the log formats of web servers is. */
export const CLOCK: usize = 26;

/** The bytes of the last one but for its seconds, and the instant of its minute. */
let clockFirst: u64 = 0;
let clockSecond: u64 = 0;
let clockThird: u64 = 0;
let clockMinute: f64 = NaN;

/** Milliseconds since 1970 of `10/Oct/2026:13:55:36 +0100`; NaN of anything else. */
export function clockAt(at: usize): f64 {
  const first = load<u64>(at);
  const second = load<u64>(at + 8);
  // The eight bytes that begin with the seconds, with the two before these in their place.
  const third = (load<u64>(at + 18) & ~0xffff) | <u64>load<u16>(at + 16);
  if (first !== clockFirst || second !== clockSecond || third !== clockThird) {
    clockFirst = first;
    clockSecond = second;
    clockThird = third;
    clockMinute = clockMinuteAt(at);
  }
  const seconds = digitsAt(at + 18, 2);
  return seconds >= 0 && seconds <= 59 ? clockMinute + <f64>(seconds * 1000) : NaN;
}

function clockMinuteAt(at: usize): f64 {
  const day = digitsAt(at, 2);
  const month = monthAt(at + 3);
  const year = digitsAt(at + 7, 4);
  const hour = digitsAt(at + 12, 2);
  const minutes = digitsAt(at + 15, 2);
  const zoneHours = digitsAt(at + 22, 2);
  const zoneMinutes = digitsAt(at + 24, 2);
  if ((day | year | hour | minutes | zoneHours | zoneMinutes) < 0 || year < 100) return NaN;
  if (load<u8>(at + 2) !== SLASH || load<u8>(at + 6) !== SLASH || load<u8>(at + 11) !== COLON) return NaN;
  if (load<u8>(at + 14) !== COLON || load<u8>(at + 17) !== COLON || load<u8>(at + 20) !== BLANK) return NaN;
  const sign = load<u8>(at + 21);
  if (sign !== PLUS && sign !== DASH) return NaN;
  if (hour > 23 || minutes > 59 || day < 1 || day > daysIn(year, month)) return NaN;
  const zone = zoneHours * 60 + zoneMinutes;
  return minutesUntil(year, month, day, hour, minutes + (sign === DASH ? zone : -zone)) * MINUTE_MS;
}

/** The number of the month of the three letters; 0 where they are none. */
function monthAt(at: usize): i32 {
  const letters = load<u32>(at) & 0xffffff;
  for (let month = 0; month < 12; month++)
    if ((load<u32>(MONTHS + <usize>month * 3) & 0xffffff) === letters) return month + 1;
  return 0;
}

const MONTHS = memory.data<u8>([
  74, 97, 110, 70, 101, 98, 77, 97, 114, 65, 112, 114, 77, 97, 121, 74, 117, 110, 74, 117, 108, 65, 117, 103, 83, 101,
  112, 79, 99, 116, 78, 111, 118, 68, 101, 99, 0, 0, 0, 0,
]);
