/** The fields that lines are scanned for, by number, as `core/src/log/block/line-fields.ts` has them. Numbers come first. */

export const TIME: i32 = 0;
export const PORT: i32 = 1;
export const STATUS: i32 = 3;
export const BYTES: i32 = 4;
export const NUMBER_COUNT: i32 = 5;
export const PEER: i32 = 5;
export const METHOD: i32 = 7;
export const HOST: i32 = 9;
export const PATH: i32 = 10;
export const PROTOCOL: i32 = 12;
export const USER: i32 = 13;
export const AGENT: i32 = 14;
export const REFERRER: i32 = 15;
