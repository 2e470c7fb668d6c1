import { parseDocument } from 'yaml';

/** Reads the value of a YAML text; what keeps it from being read otherwise, such as an alias of nothing. */
export function readYaml(text: string): { readonly value: unknown } | { readonly faults: readonly string[] } {
  const document = parseDocument(text, { version: '1.2' });
  if (document.errors.length > 0) return { faults: document.errors.map(({ message }) => message.split('\n')[0] ?? '') };
  try {
    return { value: document.toJS() };
  } catch (error) {
    return { faults: [(error as Error).message] };
  }
}
