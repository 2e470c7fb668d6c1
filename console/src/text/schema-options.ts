/** A JSON Schema, as far as the workspace's own uses it. */
export interface Schema {
  readonly $ref?: string;
  readonly anyOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly patternProperties?: Readonly<Record<string, Schema>>;
  readonly additionalProperties?: Schema | boolean;
  readonly items?: Schema;
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly description?: string;
  readonly $defs?: Readonly<Record<string, Schema>>;
}

/** What can be written at a place. */
export interface Option {
  readonly label: string;
  readonly detail: string;
}

/** All that a schema may be, its references and alternatives followed. */
function alternatives(schema: Schema, root: Schema, depth = 0): Schema[] {
  if (depth > 8) return [];
  const follow = (each: Schema) => alternatives(each, root, depth + 1);
  if (schema.$ref !== undefined) {
    const found = root.$defs?.[schema.$ref.replace('#/$defs/', '')];
    return found ? follow(found) : [];
  }
  const parts = [...(schema.anyOf ?? []), ...(schema.allOf ?? [])];
  return [schema, ...parts.flatMap(follow), ...(schema.items ? follow(schema.items) : [])];
}

/** What is below a key of a schema. */
const below = (schema: Schema, key: string, root: Schema): Schema[] =>
  alternatives(schema, root).flatMap(({ properties, patternProperties, additionalProperties }) => {
    const own = properties && Object.hasOwn(properties, key) ? [properties[key] as Schema] : [];
    const like = Object.entries(patternProperties ?? {}).filter(([pattern]) => new RegExp(pattern).test(key));
    const other = typeof additionalProperties === 'object' ? [additionalProperties] : [];
    return own.length > 0 ? own : [...like.map(([, each]) => each), ...other];
  });

/** The schemas that are reached by keys, one after the other. */
const reached = (from: readonly Schema[], path: readonly string[], root: Schema): readonly Schema[] =>
  path.reduce<readonly Schema[]>((schemas, key) => schemas.flatMap((each) => below(each, key, root)), from);

/**
 * The keys, or the values, that the schema knows at a place of a document. `start` are the schemas of the text's root.
 */
export function optionsAt(
  root: Schema,
  start: readonly Schema[],
  { path, at }: { readonly path: readonly string[]; readonly at: 'key' | 'value' },
): Option[] {
  const schemas = reached(start, path, root).flatMap((each) => alternatives(each, root));
  const options = new Map<string, string>();
  for (const { properties, enum: words = [], const: word, description = '' } of schemas) {
    if (at === 'key')
      for (const [key, { description: of = '' }] of Object.entries(properties ?? {}))
        if (!options.has(key)) options.set(key, of);
    if (at === 'value')
      for (const each of word === undefined ? words : [word])
        if (typeof each === 'string' && !options.has(each)) options.set(each, description);
  }
  return [...options].map(([label, detail]) => ({ label, detail }));
}

/** The schemas of a text's root: of a document of some kind, or of one rule. */
export const rootsOf = (root: Schema, kind: string): Schema[] => {
  const found = root.$defs?.[kind];
  return found ? [found] : Object.values(root.$defs ?? {});
};
