/** What a database does not take in a text: NUL, and halves of pairs that stand alone. Clients can send both. */
const UNSTORABLE = /\0|\p{Surrogate}/gu;
/** Those, as JSON tells them; and a little besides, which costs time only. */
const MAY_BE_UNSTORABLE = /\\u(?:0000|d[89a-f])/i;

/** JSON that PostgreSQL takes as `jsonb`: characters that it does not hold are told as U+FFFD. */
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
