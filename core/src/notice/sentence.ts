import type { Notice } from './notice.js';

/** The notice in one sentence. */
export function noticeSentence({ status, title, contact }: Notice): string {
  const answered = status === undefined ? '' : `, with status ${status}`;
  const ask = contact === undefined ? '' : `, and whom to ask: ${contact}`;
  return `Shows “${title}”${answered}${ask}.`;
}
