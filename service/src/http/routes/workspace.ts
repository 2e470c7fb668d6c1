import type {
  AppliedBody,
  LastChange,
  PolicyBody,
  PolicySummary,
  ReadingBody,
  RuleBody,
  StoredBody,
  WorkspaceBody,
} from '@jade-fence/contract';
import { defaultSentence, type Policy, ruleSentence } from '@jade-fence/core/policy';
import { type Finding, review } from '@jade-fence/core/review';
import { workspaceSchema } from '@jade-fence/core/schema';
import type { DocumentKind } from '@jade-fence/core/text';
import { describeObjects, linkFiles, readFiles, type SourceDocument, userCounts } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { countryDataInForce } from '../../country/store.js';
import { notFound } from '../../fault/not-found.js';
import { applyFiles } from '../../workspace/apply.js';
import { keyOf, type StoredDocument } from '../../workspace/document.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { ANY_INSTANT, currentState } from '../../workspace/state.js';
import { currentDocuments } from '../../workspace/store.js';
import { textOfVersion } from '../../workspace/texts.js';
import type { Api } from '../api.js';
import { exampleNotice } from '../example-notice.js';
import { ApplyInput, ReadingInput } from '../input/workspace-input.js';
import { listSummary } from './lists.js';

const MINUTE_MS = 60_000;

/** When each of the documents was changed last, and by whom. */
function changesOf(documents: readonly StoredDocument[]): (kind: string, name: string) => LastChange {
  const known = new Map(documents.map((document) => [keyOf(document), document]));
  return (kind, name) => {
    const { changedAt, author } = known.get(keyOf({ kind, name })) as StoredDocument;
    return { changedAt: changedAt.toISOString(), changedBy: author };
  };
}

/** The workspace: its policies and lists, and the applying of files. */
export function workspaceRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  /** What a review finds where these documents are in place of those of the draft. */
  const findingsOf = async (instead: readonly SourceDocument[]): Promise<Finding[]> => {
    const given = instead.map(({ kind, name, file, text }) => ({ kind, name, file, text }));
    // Within a minute it is the same state, so that it is prepared once for each text.
    const at = new Date(Math.floor(Date.now() / MINUTE_MS) * MINUTE_MS);
    const prepared = await states.get({ ...(await currentState(knex, at)), instead: given });
    const country = await countryDataInForce(knex);
    return review(prepared, { countryDate: country && Date.parse(`${country.date}T00:00:00Z`) });
  };
  const workspace = async (documents?: readonly StoredDocument[]) =>
    (await states.get(await currentState(knex, ANY_INSTANT, documents))).workspace;

  api.add('GET /workspace', { does: 'What the workspace holds, in short.' }, async (_asked, response) => {
    const documents = await currentDocuments(knex);
    const whole = await workspace(documents);
    const { policies, lists } = whole;
    const country = await countryDataInForce(knex);
    const changed = changesOf(documents);
    const users = userCounts(whole);
    response.json({
      policies: [...policies.values()].map((policy) => ({
        ...policySummary(policy),
        ...changed('policy', policy.name),
      })),
      lists: [...lists.values()].map((list) => ({ ...listSummary(list, whole), ...changed('list', list.name) })),
      objects: describeObjects(whole).map((object) => ({
        ...object,
        ...changed(object.kind, object.name),
        users: users.get(`${object.kind}/${object.name}`) ?? 0,
      })),
      countryData: country ? { source: country.source, date: country.date, networks: country.networks } : null,
    } satisfies WorkspaceBody);
  });

  api.add(
    'POST /workspace/reading',
    {
      does: 'What files would say in the draft: their problems, their rules and objects in words, and notices as clients see them. Changes nothing.',
      body: ReadingInput,
      largest: '4mb',
    },
    async ({ body }, response) => {
      const given = readFiles(body.files);
      const own = new Set(given.documents.map(keyOf));
      const others = (await currentDocuments(knex)).filter((document) => !own.has(keyOf(document)));
      const whole = linkFiles([given, ...(await states.readings.load(knex, others))]);
      const named = new Set(body.files.map(({ name }) => name));
      const policies = [...whole.workspace.policies.values()].filter((policy) => own.has(keyOf(asNamed(policy))));
      const names = new Set(policies.map(({ name }) => name));
      const isWhole = whole.issueCount === 0 && names.size > 0;
      const findings = isWhole ? await findingsOf(given.documents) : [];
      response.json({
        issues: whole.issues.filter(({ file }) => named.has(file)),
        policies: policies.map((policy) => ({ ...policySummary(policy), rules: policy.rules.map(ruleBody) })),
        objects: describeObjects(whole.workspace).filter((object) => own.has(keyOf(object))),
        notices: [...whole.workspace.notices.values()]
          .filter(({ name }) => own.has(keyOf({ kind: 'notice', name })))
          .map((notice) => exampleNotice(notice, Date.now())),
        findings: findings.filter(({ policy }) => policy !== null && names.has(policy)),
      } satisfies ReadingBody);
    },
  );

  api.add(
    'GET /workspace/schema.json',
    { does: 'The JSON Schema of a document of workspace files.', type: 'application/schema+json' },
    (_asked, response) => {
      response.type('application/schema+json').send(JSON.stringify(workspaceSchema()));
    },
  );

  api.add(
    'PUT /workspace',
    { does: 'Takes files into the draft, all or nothing.', body: ApplyInput, largest: '128mb' },
    async ({ body, who }, response) => {
      const { files, exact, dryRun, draft, base, overwrite } = body;
      const options = { exact, dryRun, by: who.name, draft, base, overwrite, byFile: true };
      response.json({ dryRun, ...(await applyFiles(knex, states.readings, files, options)) } satisfies AppliedBody);
    },
  );

  api.add('GET /policies/:name', { does: 'One policy with its rules as sentences.' }, async ({ params }, response) => {
    const { policies } = await workspace();
    const policy = policies.get(params.name);
    if (!policy)
      throw notFound('policy', params.name, [...policies.keys()], 'Apply a workspace with that policy first.');
    const stored = await storedBody(knex, 'policy', policy.name);
    response.json({ ...policySummary(policy), rules: policy.rules.map(ruleBody), ...stored } satisfies PolicyBody);
  });
}

const asNamed = ({ type, name }: Policy) => ({ kind: type, name });

/** The text of an object of the draft, and since when it is so. The object must be there. */
export async function storedBody(knex: Knex, kind: DocumentKind, name: string): Promise<StoredBody> {
  const document = (await currentDocuments(knex)).find((each) => each.kind === kind && each.name === name);
  if (!document) throw new Error(`${kind} ${name} went away`);
  return {
    text: await textOfVersion(knex, document.versionId),
    version: document.number,
    changedBy: document.author,
    changedAt: document.changedAt.toISOString(),
  };
}

function policySummary(policy: Policy): PolicySummary {
  const { name, note, stance, client, rules } = policy;
  return {
    policy: name,
    note: note ?? null,
    stance,
    clientFrom: client.from,
    covers: { hosts: policy.covers.hosts.length, clients: policy.covers.clients.length },
    default: { then: policy.default.type, sentence: defaultSentence(policy) },
    ruleCount: rules.length,
  };
}

function ruleBody(rule: Policy['rules'][number]): RuleBody {
  const { name, note, stance, then } = rule;
  return { rule: name, note: note ?? null, sentence: ruleSentence(rule), stance, then: then.type };
}
