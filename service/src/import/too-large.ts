import { Refusal, refusal } from '../fault/refusal.js';

/** The upload has more bytes than the service takes. */
export function tooLarge(maxBytes: number): Refusal {
  return refusal('upload-too-large', { maxBytes: maxBytes.toLocaleString('en') });
}
