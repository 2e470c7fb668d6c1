import { parseDocument, visit } from 'yaml';

/** Reads the value of a YAML text, as forms edit it; what keeps it from being read otherwise. */
export function readYaml(text: string): { readonly value: unknown } | { readonly faults: readonly string[] } {
  const document = parseDocument(text, { version: '1.2' });
  if (document.errors.length > 0) return { faults: document.errors.map(({ message }) => message.split('\n')[0] ?? '') };
  const aliases = new Set<string>();
  visit(document, { Alias: (_, { source }) => void aliases.add(source) });
  // An edit of what an alias names would change the alias too. The rule language has none.
  if (aliases.size > 0) return { faults: [...aliases].map((name) => `*${name} is an alias: write what it is for.`) };
  return { value: document.toJS() };
}
