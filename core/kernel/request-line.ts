import { ZERO } from './bytes';

/** Of request lines, `METHOD target PROTOCOL`, what all formats of text have in common. */

export const LONGEST_METHOD: usize = 32;

const DOT: u8 = 46;
const SLASH: u8 = 47;

/** Whether the method of so many bytes is `CONNECT`. */
export function isConnect(start: usize, length: usize): bool {
  return length === 7 && load<u32>(start) === 0x4e4e4f43 && load<u32>(start + 3) === 0x5443454e;
}

/** `HTTP/` and up to four digits and dots. */
export function isProtocol(start: usize, end: usize): bool {
  const length = end - start;
  if (length < 6 || length > 9) return false;
  if (load<u32>(start) !== 0x50545448 || load<u8>(start + 4) !== SLASH) return false;
  for (let at = start + 5; at < end; at++) if (load<u8>(at) !== DOT && <u32>load<u8>(at) - ZERO > 9) return false;
  return true;
}
