import type { ProblemCode } from '@jade-fence/contract';

/** What one refusal says: what is wrong, and how to mend it. */
export interface Message {
  readonly detail: string;
  readonly remedy?: string | undefined;
}

const SIGN_IN = 'Sign in, or send a token or the key in the service’s data folder as `Authorization: Bearer KEY`.';

// biome-ignore lint/suspicious/noExplicitAny: each message takes values of its own, which `refusal` checks
type Messages = Readonly<Record<ProblemCode | `${ProblemCode}/${string}`, (values: any) => Message>>;

/**
 * The text of every refusal of the service, by its code; where one code has several texts, the word behind the slash
 * distinguishes them. Callers see the code alone.
 */
export const MESSAGES = {
  aborted: () => ({ detail: 'The caller left before its time; nothing was stored.', remedy: 'Send it again.' }),
  'aborted/goes-on': ({ id }: { id: number }) => ({
    detail: `The caller left; import ${id} goes on.`,
    remedy: 'See the imports for its outcome.',
  }),
  'aborted/import': () => ({
    detail: 'The sending broke off before its end; nothing was imported.',
    remedy: 'Send it again.',
  }),
  'aborted/upload': () => ({
    detail: 'The upload ended before its time; nothing was stored.',
    remedy: 'Send it again.',
  }),
  'already-over': () => ({ detail: 'The token would have expired already.', remedy: 'Choose a later time.' }),
  'ambiguous-rule': ({ rule, policies }: { rule: string; policies: string }) => ({
    detail: `Several policies have a rule \`${rule}\`: ${policies}.`,
    remedy: 'Say which with `policy`.',
  }),
  'bad-address': ({ text }: { text: string | undefined }) => ({
    detail: `\`${text}\` is not an IP address.`,
    remedy: 'Write it like 192.0.2.7 or 2001:db8::7.',
  }),
  'bad-catalogue': ({ source, detail, columns }: { source: string; detail: string; columns: string }) => ({
    detail: `${source}: ${detail} Nothing was changed.`,
    remedy: `The columns are ${columns}; the first line names them.`,
  }),
  'bad-character': () => ({
    detail: 'The input has a character that no text may have, such as NUL.',
    remedy: 'Take it out, and send it again.',
  }),
  'bad-date': ({ text }: { text: string }) => ({
    detail: `\`${text}\` is not a day.`,
    remedy: 'Write it like 2026-11-01.',
  }),
  'bad-entries': ({ lines }: { lines: string }) => ({
    detail: `${lines}; nothing was changed.`,
    remedy: 'Correct them, or skip them with `skip`.',
  }),
  'bad-mapping': ({ consequence, fields }: { consequence: string; fields: string }) => ({
    detail: `The mapping cannot be used; ${consequence}.`,
    remedy: `Fields are ${fields} and header.NAME; zones are those of the IANA database.`,
  }),
  'bad-original': () => ({
    detail: 'X-Forwarded-Host or X-Forwarded-Uri cannot be read.',
    remedy: 'Refuse the request at the gateway.',
  }),
  'bad-path': () => ({
    detail: 'The path is not well encoded.',
    remedy: 'Encode what is no letter, digit or sign of a path as %XX of its UTF-8 bytes.',
  }),
  'bad-request': () => ({ detail: 'The request cannot be read.', remedy: 'See that it is HTTP/1.1 as of RFC 9112.' }),
  'bad-time': ({ at }: { at: string }) => ({
    detail: `\`${at}\` is not a time.`,
    remedy: 'Write it with its zone, like 2026-11-12T18:00:00Z.',
  }),
  'begun-too-often/resolve': ({ message }: { message: string }) => ({
    detail: `${message} What was answered until then is kept.`,
    remedy: 'The log of the service says why they ended. Then resolve the hosts again.',
  }),
  'begun-too-often': ({ message }: { message: string }) => ({
    detail: `${message} Nothing was imported.`,
    remedy: 'The log of the service says why they ended. Then send the log again.',
  }),
  'body-too-large': () => ({ detail: 'The body is larger than this call takes.', remedy: 'Send less at a time.' }),
  'body-too-slow': () => ({ detail: 'The body did not come within 5 seconds.', remedy: 'Send it again, all at once.' }),
  busy: () => ({ detail: 'Others hold what this call needs; nothing was changed.', remedy: 'Try again in a moment.' }),
  'checks-fail': () => ({
    detail: 'Checks fail; nothing was published.',
    remedy: 'Mend the rules, or change what the checks expect.',
  }),
  'chosen-in-part': () => ({
    detail: 'The chosen objects are invalid without others of the draft; nothing was published.',
    remedy: 'Choose what they name, too.',
  }),
  'clients-redacted': () => ({
    detail: 'A policy of this replay shows clients as pseudonyms only.',
    remedy: 'Filter by a pseudonym that the replay shows, such as client-0a1b2c3d4e5f.',
  }),
  'clients-redacted/prefix': ({ bits }: { bits: number }) => ({
    detail: 'A policy of this replay shows clients as pseudonyms only.',
    remedy: `Filter by a pseudonym that the replay shows, or by a network of ${bits} bits or fewer.`,
  }),
  'compressed-log': ({ packer }: { packer: string }) => ({
    detail: `The log is packed with ${packer}; nothing was imported.`,
    remedy: 'Unpack it first, or pack it with gzip or zstd.',
  }),
  'country-data-gone': () => ({
    detail: 'The country data of that state is gone; nothing was changed.',
    remedy: 'Choose a state of the country data that is still kept.',
  }),
  'country-data-not-loaded': () => ({
    detail: 'No country data is loaded, and no correction holds the address.',
    remedy: 'Load it with `jade-fence country import FILE`.',
  }),
  'cross-site': ({ header }: { header: string }) => ({
    detail: `A change made with a session carries the header ${header}.`,
    remedy: 'Make changes from the console, or with a token.',
  }),
  'damaged-log': ({ detail }: { detail: string }) => ({
    detail: `${detail}; nothing was imported.`,
    remedy: 'Fetch the file again. To take what is there, unpack it yourself as far as it goes, and import that.',
  }),
  'database-away': () => ({
    detail: 'The database is away, or takes no more connections; what this call was to store is not stored.',
    remedy: 'Try again in a moment. Where it stays away, the log of the service says why.',
  }),
  'database-away/decides': () => ({
    detail: 'The database is away. Requests are decided by what was in force when it was there last.',
    remedy: 'Start the database, or see that DATABASE_URL is right; the service goes on by itself.',
  }),
  'database-away/import': () => ({
    detail: 'The service stops, or its database is away; nothing was imported.',
    remedy: 'Send it again when it is back.',
  }),
  'database-full': () => ({
    detail: 'The database is full; nothing was stored.',
    remedy: 'Make room on its disk, or delete logs and replays that are not needed.',
  }),
  'different-logs': ({ before, after }: { before: number; after: number }) => ({
    detail: `Replay ${before} and replay ${after} are of different logs, so that their requests cannot be compared.`,
    remedy: 'Replay the same log again.',
  }),
  'different-requests': ({ before, after }: { before: number; after: number }) => ({
    detail: `Replay ${before} and replay ${after} are not of the same requests of the log, so that they cannot be compared.`,
    remedy: 'Replay the same span and filter again.',
  }),
  'draft-changed': ({ number, expected }: { number: number; expected: number }) => ({
    detail: `The draft has changed since: it is at ${number}, not at ${expected}.`,
    remedy: 'Look at it again, then repeat the call.',
  }),
  'draft-changed/proposal': ({ id }: { id: number }) => ({
    detail: `Objects of proposal ${id} were changed since.`,
    remedy: 'Have it proposed again.',
  }),
  'effect-of-trial': () => ({
    detail: 'An effect is of the workspace alone, without `policy` and `files`.',
    remedy: 'Order it with `purpose: asked`.',
  }),
  'four-eyes': () => ({
    detail: 'Publishing takes two people here.',
    remedy: 'Propose it, and ask another publisher to approve.',
  }),
  'gateway-token-required': () => ({
    detail: 'Live decisions are for gateways, which ask with their token.',
    remedy: 'Make one with `jade-fence token add NAME --gateway`, and send it as `Authorization: Bearer TOKEN`.',
  }),
  'how-to-sign-in': () => ({
    detail: 'Sign in with `name` and `password`, or with `key` alone.',
    remedy: 'Send one of the two.',
  }),
  'import-cancelled': () => ({
    detail: 'The import was cancelled; nothing of it is kept.',
    remedy: 'Import the log again.',
  }),
  'import-under-way': ({ name }: { name: string }) => ({
    detail: `A log \`${name}\` is being imported already; nothing was imported.`,
    remedy: 'Choose another name, or cancel that import first.',
  }),
  internal: () => ({
    detail: 'The service has failed; its log says why.',
    remedy: 'Send it again. Where it fails again, report what the log says.',
  }),
  'invalid-workspace': ({ count, shown, consequence }: { count: string; shown: string; consequence: string }) => ({
    detail: `${count} in the workspace files${shown}; ${consequence}.`,
  }),
  'invalid-input': ({ what, named, remedy }: { what: string; named: string; remedy: string | undefined }) => ({
    detail: `The ${what} is invalid${named}.`,
    remedy,
  }),
  'kind-and-name': () => ({ detail: 'One object is given by its `kind` and its `name`.', remedy: 'Send both.' }),
  'last-administrator': () => ({
    detail: 'No administrator could sign in after that; nothing was changed.',
    remedy: 'Make somebody else administrator first, or set a password.',
  }),
  'log-name-taken': ({ name }: { name: string }) => ({
    detail: `There is a log \`${name}\` already; nothing was imported.`,
    remedy: 'Choose another name, or delete that log first.',
  }),
  'longer-than-own': () => ({
    detail: 'A token cannot make one that lives longer than itself.',
    remedy: 'Sign in to make a token that lives longer.',
  }),
  'no-dns-servers': () => ({
    detail: 'No DNS servers are set, so that no host can be looked up.',
    remedy:
      'An administrator sets them with `jade-fence setting set --dns-server ADDRESS`, or in the console under People.',
  }),
  'no-destinations-in-log': ({ log }: { log: string }) => ({
    detail: `No request of \`${log}\` shows both its host and the address that it went to.`,
    remedy: 'Resolve its hosts by DNS, or load resolutions from a file.',
  }),
  'no-country-data': () => ({
    detail: 'No row of the file could be read; the country data stays as it was.',
    remedy:
      'It is CSV with rows `start,end,CODE` or `CIDR,CODE`, statistics of a regional internet registry, or an MMDB file.',
  }),
  'no-resolutions': () => ({
    detail: 'No line of the file gives a host its addresses; the resolutions stay as they were.',
    remedy:
      'It is CSV with rows `host,address`, a hosts file with `address name` in a line, or a zone file of RFC 1035.',
  }),
  'no-pattern': () => ({
    detail: 'Text has no shape of its own, and no pattern says how to read it.',
    remedy: 'Give a `pattern` such as `{time} {peer} "{request}" {status}`, or a mapping that has one.',
  }),
  'no-original': () => ({
    detail: 'The headers do not describe the original request.',
    remedy: 'Send X-Forwarded-Method, X-Forwarded-Proto, X-Forwarded-Host, X-Forwarded-Uri and X-Forwarded-For.',
  }),
  'no-readable-lines': ({
    detail,
    fields,
    formats,
  }: {
    detail: string;
    fields: string;
    formats: string | undefined;
  }) => ({
    detail: `${detail}${fields === '' ? '' : ` It has the fields ${fields}, of which none is a request's.`} Nothing was imported.`,
    remedy:
      formats === undefined
        ? 'This looks like a binary file. Logs are text, plain or packed with gzip or zstd.'
        : `If the format was not found right, name it. Logs are ${formats}.`,
  }),
  'not-an-object': ({ what }: { what: string }) => ({
    detail: `The ${what} is no JSON object.`,
    remedy: 'Send fields with their values in braces.',
  }),
  'not-found': ({ kind, name }: { kind: string; name: string }) => ({
    detail: `The draft has no ${kind} \`${name}\`.`,
    remedy: `See which there are with \`jade-fence object list ${kind}\`.`,
  }),
  'not-json': () => ({ detail: 'The body is not JSON.', remedy: 'Send JSON as of RFC 8259.' }),
  'not-met': ({ what }: { what: string }) => ({
    detail: `The rule requires ${what}, and this is not valid.`,
    remedy: 'Ask for the page again, and answer there.',
  }),
  'not-ready': () => ({ detail: 'The database does not answer.', remedy: 'Ask again in a moment.' }),
  'not-storable': ({ needed, fields }: { needed: string; fields: string }) => ({
    detail: `A log cannot be stored without ${needed} alone; nothing was imported.`,
    remedy: `An import can leave out ${fields}. The rest can be redacted in what is shown and exported.`,
  }),
  'not-utf-8': () => ({
    detail: 'The file is not text in UTF-8; nothing was changed.',
    remedy: 'Save the file as UTF-8.',
  }),
  'nothing-asked': () => ({
    detail: 'The rule requires nothing that this client could send.',
    remedy: 'Ask for a decision first: it names what is required.',
  }),
  'nothing-in-force': () => ({ detail: 'No rules are in force yet.', remedy: 'Publish the draft.' }),
  'nothing-published': () => ({
    detail: 'Nothing has been published yet.',
    remedy: 'Publish the draft, or ask about the draft itself.',
  }),
  'nothing-published/restore': () => ({
    detail: 'Nothing has been published yet, so that there is nothing to go back to.',
    remedy: 'Publish the draft first.',
  }),
  'nothing-to-apply': ({ consequence }: { consequence: string }) => ({
    detail: `The files hold no document; ${consequence}.`,
    remedy: 'Give files with documents that start with `policy:`, `list:` or another kind.',
  }),
  'nothing-to-look-up': ({ text }: { text: string }) => ({
    detail: `\`${text}\` is no address, host, URL or user.`,
    remedy: 'Write a user that looks like something else as `user:NAME`.',
  }),
  'nothing-to-publish': () => ({ detail: 'The draft has no changes.', remedy: 'Change something first.' }),
  'nothing-to-restore': ({ kind, name, revision }: { kind: string; name: string; revision: string }) => ({
    detail: `The ${kind} \`${name}\` is as in ${revision} already.`,
    remedy: 'Choose another revision.',
  }),
  'notice-over': () => ({ detail: 'This notice has expired, or was never made.', remedy: 'Ask for the page again.' }),
  'object-changed': ({
    kind,
    name,
    now,
    expected,
    changed,
  }: {
    kind: string;
    name: string;
    now: number | undefined;
    expected: number;
    changed: string;
  }) => ({
    detail: `The ${kind} \`${name}\` is at version ${now ?? 'none'} now, not at ${expected}: it was changed ${changed}. Nothing was overwritten.`,
    remedy: 'Fetch it again, and make the change there.',
  }),
  'object-changed/exists': ({ kind, name }: { kind: string; name: string }) => ({
    detail: `There is a ${kind} \`${name}\` already; nothing was changed.`,
    remedy: 'Fetch it, and make the change there.',
  }),
  'object-changed/several': () => ({
    detail: 'Others have changed objects since; nothing was overwritten.',
    remedy: 'Fetch them again, and make the changes there.',
  }),
  'other-object': ({ kind, name }: { kind: string; name: string }) => ({
    detail: `The text is of other objects than ${kind} \`${name}\`; nothing was changed.`,
    remedy: 'Put one object at a time, or apply the file.',
  }),
  'other-sort': ({ list, sort, other, otherSort }: Record<'list' | 'sort' | 'other' | 'otherSort', string>) => ({
    detail: `\`${list}\` is of ${sort}, and \`${other}\` of ${otherSort}.`,
    remedy: 'Compare lists of one sort.',
  }),
  'others-proposal': ({ author }: { author: string }) => ({
    detail: `The proposal is ${author}’s.`,
    remedy: 'Only its author takes it back.',
  }),
  'own-edits': () => ({
    detail: 'Nobody approves their own edits.',
    remedy: 'Ask a publisher who has edited nothing of it, passcodes and country data included.',
  }),
  'own-proposal': () => ({ detail: 'Nobody approves their own proposal.', remedy: 'Ask another publisher.' }),
  'person-exists': ({ name }: { name: string }) => ({
    detail: `There is a person \`${name}\` already.`,
    remedy: 'Choose another name, or change that person.',
  }),
  'proposal-gone': ({ id }: { id: number }) => ({
    detail: `Proposal ${id} is gone.`,
    remedy: 'List the proposals to see which there are.',
  }),
  'proposal-published': ({ id }: { id: number }) => ({
    detail: `Proposal ${id} is published already.`,
    remedy: 'Propose what the draft has now.',
  }),
  'proposal-withdrawn': ({ id }: { id: number }) => ({
    detail: `Proposal ${id} was withdrawn.`,
    remedy: 'Have it proposed again.',
  }),
  'published-meanwhile': ({ revision }: { revision: number | null | undefined }) => ({
    detail: `Revision ${revision} was published meanwhile.`,
    remedy: 'Look at what is different from it, and publish that.',
  }),
  'replay-cancelled': ({ id }: { id: number }) => ({ detail: `Replay ${id} was cancelled.`, remedy: 'Run it again.' }),
  'replay-failed': ({ id, failure }: { id: number; failure: string | null }) => ({
    detail: `Replay ${id} has failed: ${failure ?? 'it has no result.'}`,
    remedy: 'Run it again.',
  }),
  'replay-running': ({ id }: { id: number }) => ({
    detail: `Replay ${id} is still running.`,
    remedy: 'Wait until it is done, or cancel it.',
  }),
  'replay-waiting': ({ id }: { id: number }) => ({
    detail: `Replay ${id} has not begun.`,
    remedy: 'Wait until it is done, or cancel it.',
  }),
  'role-too-high': ({ role }: { role: string }) => ({
    detail: `A token of yours can be ${role} at most.`,
    remedy: 'Make one of that role or a lower one.',
  }),
  'role-too-low': ({ needed, name, role }: { needed: string; name: string; role: string }) => ({
    detail: `This is for a ${needed}; ${name} calls as ${role}.`,
    remedy: 'Ask an administrator for the role, or take a token that has it.',
  }),
  'role-too-low/feeds': ({ what, role }: { what: string; role: string }) => ({
    detail: `${what} is for a ${role}.`,
    remedy: 'Ask an administrator for the role.',
  }),
  'role-too-low/gateway-tokens': () => ({
    detail: 'Tokens of gateways are made by administrators.',
    remedy: 'Ask an administrator for one.',
  }),
  'role-too-low/tokens-of-others': () => ({
    detail: 'The tokens of others are for administrators.',
    remedy: 'Ask an administrator.',
  }),
  'role-without-rule': () => ({
    detail: '`role` is what a rule did, so it needs `rule`.',
    remedy: 'Name the rule, or leave out `role`.',
  }),
  'service-stops': ({ id, path }: { id: number; path: string }) => ({
    detail: `The service stops. The log is here; import ${id} goes on when a service is there.`,
    remedy: `See its outcome at ${path}.`,
  }),
  'session-required': () => ({
    detail: 'A first password is set from the console, or by an administrator.',
    remedy: 'Sign in to the console with the access key; or `jade-fence person set NAME --password`.',
  }),
  'token-exists': ({ name, owner }: { name: string; owner: string }) => ({
    detail: `There is a token \`${name}\` of ${owner} already.`,
    remedy: 'Delete it first, or take another name.',
  }),
  'sign-in-required': () => ({ detail: 'This needs you to sign in.', remedy: SIGN_IN }),
  'sign-in-required/wrong': () => ({
    detail: 'The access key or token is wrong, or has expired.',
    remedy: SIGN_IN,
  }),
  'too-long': () => ({ detail: 'A token lives 366 days at most.', remedy: 'Choose an earlier time.' }),
  'too-many-tokens': ({ most }: { most: number }) => ({
    detail: `There are ${most} tokens already.`,
    remedy: 'Delete those that are not used.',
  }),
  'too-many-tries': ({ minutes }: { minutes: number }) => ({
    detail: 'Too many tries have failed.',
    remedy: `Try again in ${minutes} minutes.`,
  }),
  'unsupported-body': () => ({
    detail: 'The body is of a kind or encoding that this call does not take.',
    remedy: 'Send JSON in UTF-8, plain or packed with gzip.',
  }),
  'unknown-client': ({ name }: { name: string }) => ({
    detail: `No request of the replay is of a client with the pseudonym \`${name}\`.`,
    remedy: 'Pseudonyms are made with a key of each database: take one from an answer of this service.',
  }),
  'unknown-import': ({ id }: { id: number }) => ({
    detail: `There is no import ${id}.`,
    remedy: 'List the imports to see which there are. One that came to a log goes with that.',
  }),
  'unknown-proposal': ({ id }: { id: number }) => ({
    detail: `There is no proposal ${id}.`,
    remedy: 'List the proposals to see which there are.',
  }),
  'unknown-replay': ({ id }: { id: number }) => ({
    detail: `There is no replay ${id}.`,
    remedy: 'List the replays to see which there are.',
  }),
  'unknown-resolve': ({ id }: { id: number }) => ({
    detail: `There is no look-up of hosts ${id}.`,
    remedy: 'List them to see which there are.',
  }),
  'unknown-request': ({ number, last }: { number: number; last: number | undefined }) => ({
    detail: `The replay has no request ${number}.`,
    remedy: last === undefined ? 'It has none at all.' : `Its requests are numbered 1 to ${last}.`,
  }),
  'unknown-revision': ({ number, last }: { number: number; last: number | undefined }) => ({
    detail: `There is no revision ${number}.`,
    remedy: last === undefined ? 'Nothing has been published yet.' : `The revisions are numbered 1 to ${last}.`,
  }),
  'unknown-route': ({ method, path }: { method: string; path: string }) => ({
    detail: `There is nothing at ${method} ${path}.`,
    remedy: 'The calls are described in /api/v1/openapi.json.',
  }),
  'unknown-route/gate': () => ({
    detail: 'This listener has /decide and /gate for live decisions, and nothing else.',
    remedy: 'Send requests to one of these, and other calls to the API.',
  }),
  'unknown-session': ({ id }: { id: number }) => ({
    detail: `There is no session ${id} of yours.`,
    remedy: 'List your sessions to see which there are.',
  }),
  'unknown-token': ({ id }: { id: number }) => ({
    detail: `There is no token ${id} of yours.`,
    remedy: 'List your tokens to see which there are.',
  }),
  'unknown-version': ({ method, path, api }: { method: string; path: string; api: string }) => ({
    detail: `There is nothing at ${method} ${path}.`,
    remedy: `The API is below ${api}.`,
  }),
  'unknown-version/object': ({ kind, name, number }: { kind: string; name: string; number: string }) => ({
    detail: `The ${kind} \`${name}\` never had a version ${number}.`,
    remedy: 'See its versions to know which there are.',
  }),
  'upload-idle': ({ seconds }: { seconds: number }) => ({
    detail: `Nothing of the log came for ${seconds} seconds, so the import was ended.`,
    remedy: 'Send it again; a longer pause is allowed by `jade-fence service run --upload-idle`.',
  }),
  'upload-too-large': ({ maxBytes }: { maxBytes: string }) => ({
    detail: `The upload is larger than ${maxBytes} bytes; nothing was imported.`,
    remedy: 'Split the log, or start the service with a larger --max-upload.',
  }),
  'version-needed': () => ({
    detail: 'A change of an object names the version that it was made for.',
    remedy: 'Send the `ETag` of the object as `If-Match`, or `If-None-Match: *` for a new one.',
  }),
  warnings: () => ({
    detail: 'The review has new warnings; nothing was published.',
    remedy: 'Mend them, or accept them when you publish.',
  }),
  'which-client': () => ({
    detail: 'The client is given as `probe`, or as `client` with its address.',
    remedy: 'Send one of the two.',
  }),
  'which-hosts': () => ({
    detail:
      'A look-up takes either the hosts of a `log`, or `hosts`; the addresses that a log shows are those of a `log`.',
    remedy: 'Name one of them.',
  }),
  'which-log': () => ({ detail: 'A replay needs its `log`, or several as `logs`.', remedy: 'Name a log.' }),
  'worker-lost': () => ({
    detail: 'A worker of the service ended before its time; nothing was stored.',
    remedy: 'Try again. Where it happens again, the log of the service says why.',
  }),
  'would-overwrite': () => ({
    detail: 'The files would undo what was edited here since files were last applied; nothing was changed.',
    remedy: 'Fetch the edits into the files first, or apply them with `overwrite`.',
  }),
  'wrong-current-password': () => ({
    detail: 'The current password is wrong.',
    remedy: 'Type it again, or have an administrator set a new one.',
  }),
  'wrong-key': () => ({
    detail: 'The access key is wrong.',
    remedy: 'It is in the file `access-key` of the service’s data folder.',
  }),
  'wrong-password': () => ({
    detail: 'The name or the password is wrong.',
    remedy: 'An administrator can set a new one with `jade-fence person set NAME --password`.',
  }),
} satisfies Partial<Messages>;

export type MessageName = keyof typeof MESSAGES;
