import { type LineFault, type LineResult, lineFault } from '../line.js';
import { decoded } from './escapes.js';
import { withOurNames } from './names.js';
import { readRequest } from './request-fields.js';

/**
 * Reads one line of JSON Lines, in our short field names or in those of the OpenTelemetry semantic conventions for
 * HTTP. `null`, `""` and `"-"` mean that the field was not seen. Names that are neither are counted in `ignored`.
 */
export function readJsonLine(line: string, ignored: Map<string, number>): LineResult {
  const value = jsonObject(line);
  return 'fault' in value ? value : readRequest(withOurNames(value.object), ignored);
}

/** The object of a line, or its fault. */
export function jsonObject(
  line: string,
): { readonly object: Readonly<Record<string, unknown>> } | { readonly fault: LineFault } {
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch (error) {
    // Servers whose formats were not made for JSON write bytes as \xhh, which it does not know.
    const mended = line.includes('\\x') ? parsed(withoutBytes(line)) : undefined;
    if (mended === undefined) return lineFault('not-json', (error as Error).message);
    value = mended;
  }
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    return lineFault('not-an-object', value === null ? 'null' : Array.isArray(value) ? 'a list' : `a ${typeof value}`);
  return { object: value as Record<string, unknown> };
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}

/** `\xhh` as the text that it stands for; an escaped backslash in front of an x is none. */
const withoutBytes = (line: string): string =>
  line.replace(/\\(?:x([0-9a-fA-F]{2}(?:\\x[0-9a-fA-F]{2})*)|.)/g, (whole, bytes: string | undefined) =>
    bytes === undefined ? whole : JSON.stringify(decoded(bytes)).slice(1, -1),
  );
