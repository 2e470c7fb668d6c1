/** A schema by JSON Schema (draft 2020-12), as far as ours go. */
export interface Schema {
  readonly [keyword: string]: unknown;
}

/** What YAML has for a word: texts, and what it takes for numbers and truths. */
export const WORD: Schema = { type: ['string', 'number', 'boolean'] };
export const TEXT: Schema = { type: ['string', 'number', 'boolean', 'null'] };
export const NAME: Schema = { type: ['string', 'number'], pattern: '^[a-z0-9-]{1,64}$' };

/** The schema with a description, which editors show. */
export const described = (schema: Schema, description: string): Schema => ({ ...schema, description });

/** One of a thing, or a list of it; nothing is as good as none. */
export const someOf = (item: Schema, description?: string): Schema => ({
  anyOf: [item, { type: 'array', items: item }, { type: 'null' }],
  ...(description && { description }),
});

/** One of these words. */
export const oneOf = (words: readonly string[], description?: string): Schema => ({
  enum: [...words],
  ...(description && { description }),
});

/** A map with these keys and no others. */
export const mapOf = (properties: Readonly<Record<string, Schema>>, required: readonly string[] = []): Schema => ({
  type: 'object',
  properties,
  required: [...required],
  additionalProperties: false,
});

/** A map with keys of one's own. */
export const mapOfAny = (values: Schema, description?: string): Schema => ({
  type: ['object', 'null'],
  additionalProperties: values,
  ...(description && { description }),
});

/** The schema of this name among the definitions. */
export const ref = (name: string): Schema => ({ $ref: `#/$defs/${name}` });
