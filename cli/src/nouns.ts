import type { Command } from 'commander';

/** The groups of the help, in its order. */
const RULES = 'Rules, and what they speak of:';
const EVIDENCE = 'Logs, and what rules do to them:';
const PUBLISHING = 'Tests and publishing:';
const FORCE = 'In force:';
const SERVICE = 'The service, and who may do what:';

/**
 * What the client works on. Every command is one of these nouns and a verb, with one verb for one deed: `list` `show`
 * `add` `set` `remove` `import` `export`, and a few that are the noun's own.
 */
const NOUNS = {
  workspace: [RULES, 'files of rules: check, apply, pull, push'],
  policy: [RULES, 'policies, their rules in order, each in a sentence'],
  rule: [RULES, 'one rule: move it, see what it would stop'],
  list: [RULES, 'lists of addresses, domains and so on, and what uses them'],
  entry: [RULES, 'the entries of a list: search, add, change, remove'],
  object: [RULES, 'the text and the version history of any object'],
  catalogue: [RULES, 'categories and applications as CSV'],
  application: [RULES, 'allow an application with all that it needs'],
  feed: [RULES, 'lists that are fetched from others'],
  country: [RULES, 'country data, and the country of an address'],
  resolution: [RULES, 'what is known of the addresses of hosts'],
  resolve: [RULES, 'look up the addresses of hosts'],
  passcode: [RULES, 'what clients type when a rule requires it'],
  log: [EVIDENCE, 'request logs'],
  import: [EVIDENCE, 'imports of logs that are under way, or were'],
  mapping: [EVIDENCE, 'how the parts of a log are taken for fields'],
  replay: [EVIDENCE, 'run the rules over logs, report, and compare'],
  request: [EVIDENCE, 'requests of a replay, and why they were decided so'],
  'look-up': [EVIDENCE, 'everything that is known of a value'],
  client: [EVIDENCE, 'what the policies can do to one client'],
  finding: [PUBLISHING, 'what the review finds in the rules themselves'],
  check: [PUBLISHING, 'probes at destinations, and the verdicts they must have'],
  draft: [PUBLISHING, 'what was edited since the last publish'],
  revision: [PUBLISHING, 'publish, compare, restore'],
  proposal: [PUBLISHING, 'a draft for a second person to publish'],
  decision: [FORCE, 'live decisions'],
  grant: [FORCE, 'what clients may do because they confirmed'],
  service: [SERVICE, 'run the service, and see what it holds'],
  setting: [SERVICE, 'what administrators chose for the service'],
  profile: [SERVICE, 'services that you have signed in to'],
  person: [SERVICE, 'who may sign in, and what they may do'],
  token: [SERVICE, 'keys for programs that call in your name'],
  session: [SERVICE, 'browsers that have signed in as you'],
  audit: [SERVICE, 'who did what, and when'],
  database: [SERVICE, 'the database that the service keeps for itself'],
} as const satisfies Readonly<Record<string, readonly [group: string, summary: string]>>;

export type Noun = keyof typeof NOUNS;

/** Adds every noun to the program, so that the help has them in the order of the table. */
export function addNouns(program: Command): void {
  for (const [name, [group, summary]] of Object.entries(NOUNS))
    program.command(name).summary(summary).description(sentence(summary)).helpGroup(group);
}

/** The command of a noun, for its verbs to be added to. */
export const noun = (program: Command, name: Noun): Command =>
  program.commands.find((each) => each.name() === name) as Command;

const sentence = (text: string): string => `${text[0]?.toUpperCase()}${text.slice(1)}.`;
