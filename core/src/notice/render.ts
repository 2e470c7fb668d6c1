import { escapeHtml } from '../text/index.js';
import { filled, type Notice, type Placeholder } from './notice.js';

/** The facts of the stopped request. */
export type NoticeFacts = Partial<Record<Placeholder, string>>;

/** The notice as problem details (RFC 9457). */
export interface NoticeProblem {
  readonly type: 'about:blank';
  readonly title: string;
  readonly status: number;
  readonly detail?: string;
  readonly contact?: string;
}

interface Filled {
  readonly title: string;
  readonly paragraphs: readonly string[];
  readonly contact: string | undefined;
}

/** Both forms are made of this, so that they say the same. */
function fill({ title, text, contact }: Notice, facts: NoticeFacts): Filled {
  const paragraphs = filled(text, facts).split(/\n\s*\n/);
  return {
    title: filled(title, facts),
    paragraphs: paragraphs.map((each) => each.trim()).filter((each) => each !== ''),
    contact: contact === undefined ? undefined : filled(contact, facts),
  };
}

/** The notice as problem JSON; `status` is that of the verdict, used where the notice has none. */
export function noticeProblem(notice: Notice, status: number, facts: NoticeFacts): NoticeProblem {
  const { title, paragraphs, contact } = fill(notice, facts);
  return {
    type: 'about:blank',
    title,
    status: notice.status ?? status,
    ...(paragraphs.length > 0 ? { detail: paragraphs.join('\n\n') } : {}),
    ...(contact === undefined ? {} : { contact }),
  };
}

/** The notice as a page that needs nothing else: no script, no outside style, everything escaped. */
export function noticeHtml(notice: Notice, facts: NoticeFacts): string {
  const { title, paragraphs, contact } = fill(notice, facts);
  const body = paragraphs.map((each) => `<p>${escapeHtml(each).replaceAll('\n', '<br>')}</p>`);
  const ask = contact === undefined ? [] : [`<p>${linked(contact)}</p>`];
  return [
    '<!doctype html>',
    '<html lang="en">',
    `<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escapeHtml(title)}</title>`,
    `<style>${STYLE}</style></head>`,
    `<body><main><h1>${escapeHtml(title)}</h1>`,
    ...body,
    ...ask,
    '</main></body>',
    '</html>',
    '',
  ].join('\n');
}

const STYLE =
  ':root{color-scheme:light dark}body{font:1.0625rem/1.6 system-ui,sans-serif;margin:0}main{max-width:36rem;margin:12vh auto 4rem;padding:0 1.5rem}h1{font-size:1.75rem;line-height:1.25}';

/** A contact that is nothing but an e-mail address becomes a link. */
function linked(contact: string): string {
  const text = escapeHtml(contact);
  return /^[^\s@<>"'&?]+@[^\s@<>"'&?]+$/.test(contact) ? `<a href="mailto:${text}">${text}</a>` : text;
}
