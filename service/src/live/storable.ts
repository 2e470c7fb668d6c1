/** Characters that PostgreSQL refuses in a text: NUL, and unpaired surrogates. Clients can send both. */
const UNSTORABLE = /\0|\p{Surrogate}/gu;
/** Those, escaped as in JSON; also matches a little more, which only costs time. */
const MAY_BE_UNSTORABLE = /\\u(?:0000|d[89a-f])/i;

/** JSON that PostgreSQL takes as `jsonb`: characters that it refuses become U+FFFD. */
export function storableJson(value: unknown): string {
  const text = JSON.stringify(value);
  return MAY_BE_UNSTORABLE.test(text) ? JSON.stringify(storable(value)) : text;
}

function storable(value: unknown): unknown {
  if (typeof value === 'string') return value.replace(UNSTORABLE, '\uFFFD');
  if (Array.isArray(value)) return value.map(storable);
  if (value === null || typeof value !== 'object' || value instanceof Date) return value;
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [storable(key), storable(each)]));
}
