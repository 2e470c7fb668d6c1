export { type Address, compareAddresses, compareWords, predecessor, successor, type Words } from './address.js';
export { formatAddress } from './format.js';
export {
  byStartThenWidest,
  compareWordsAt,
  findFour,
  findInterval,
  type Interval,
  type Intervals,
  intervalAt,
  intervalsOf,
  lastStartFour,
  lastStartSix,
  packIntervals,
  searchFour,
  searchSix,
} from './intervals.js';
export { type AddressFault, parseAddress, tryAddress } from './parse.js';
export { formatPrefix, formatRange, type Prefix, prefixesOf } from './prefix.js';
export {
  type AddressRange,
  isRangeFault,
  networkOf,
  type RangeFault,
  rangeContains,
  rangeSize,
  tryRange,
} from './range.js';
export { readFour } from './read-four.js';
export { type AddressSet, addressSet, complement, setContains, setCovers, setRanges, setSamples } from './set.js';
export { isSpecialPurpose, specialPurpose } from './special.js';
export { withoutZone } from './zone.js';
