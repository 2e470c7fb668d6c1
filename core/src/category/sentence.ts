import type { Category } from './category.js';

/** The category's contents, in one sentence. */
export function categorySentence({ domains, urls }: Category): string {
  const parts = [counted(domains.length, 'domain'), counted(urls.length, 'URL')].filter((part) => part !== undefined);
  return parts.length === 0
    ? 'Holds nothing, so it never matches.'
    : `Holds ${parts.join(' and ')}, by name, pattern or list.`;
}

function counted(count: number, what: string): string | undefined {
  return count === 0 ? undefined : count === 1 ? `one ${what}` : `${count.toLocaleString('en')} ${what}s`;
}
