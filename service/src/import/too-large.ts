import { Problem } from '../http/problem.js';

export function tooLarge(maxBytes: number): Problem {
  return new Problem(
    413,
    'upload-too-large',
    `The upload is larger than ${maxBytes.toLocaleString('en')} bytes; nothing was imported.`,
    {
      remedy: 'Part the log into several, or start the service with a larger --max-upload.',
    },
  );
}
