import type { HostTerm, UrlTerm } from '../condition/index.js';

/** A subject, and the domains and URLs that belong to it. */
export interface Category {
  readonly type: 'category';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  readonly domains: readonly HostTerm[];
  readonly urls: readonly UrlTerm[];
}
