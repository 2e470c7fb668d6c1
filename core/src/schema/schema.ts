import type { DocumentKind } from '../text/index.js';
import { conditionSchema } from './conditions.js';
import {
  applicationSchema,
  categorySchema,
  checkSchema,
  correctionsSchema,
  listSchema,
  noticeSchema,
  probeSchema,
  scheduleSchema,
} from './documents.js';
import { limitSchema, policySchema, ruleSchema, verdictSchema } from './policy.js';
import { ref, type Schema } from './shapes.js';

const DOCUMENTS: Readonly<Record<DocumentKind, () => Schema>> = {
  policy: policySchema,
  list: listSchema,
  category: categorySchema,
  application: applicationSchema,
  schedule: scheduleSchema,
  notice: noticeSchema,
  corrections: correctionsSchema,
  probe: probeSchema,
  check: checkSchema,
};

/**
 * A JSON Schema (draft 2020-12) of one document of a workspace file, by which editors complete and mark what they show.
 * It accepts every valid document; what the names and values mean is checked by the reader.
 */
export function workspaceSchema(): Schema {
  const kinds = Object.keys(DOCUMENTS) as DocumentKind[];
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'A document of a Jade Fence workspace',
    type: 'object',
    allOf: kinds.map((kind) => ({ if: { required: [kind], properties: firstOf(kind) }, then: ref(kind) })),
    anyOf: kinds.map((kind) => ({ required: [kind] })),
    $defs: {
      condition: conditionSchema(),
      limit: limitSchema(),
      rule: ruleSchema(),
      verdict: verdictSchema(),
      ...Object.fromEntries(kinds.map((kind) => [kind, DOCUMENTS[kind]()])),
    },
  };
}

/** A check names a policy, and an application its category: neither is what the document is. */
function firstOf(kind: DocumentKind): Schema {
  if (kind === 'policy') return { check: false };
  return kind === 'category' ? { application: false } : {};
}
