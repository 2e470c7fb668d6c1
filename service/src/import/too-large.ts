import { Refusal } from '../fault/refusal.js';

/** The upload has more bytes than the service takes. */
export function tooLarge(maxBytes: number): Refusal {
  return new Refusal(
    'upload-too-large',
    `The upload is larger than ${maxBytes.toLocaleString('en')} bytes; nothing was imported.`,
    {
      remedy: 'Split the log, or start the service with a larger --max-upload.',
    },
  );
}
