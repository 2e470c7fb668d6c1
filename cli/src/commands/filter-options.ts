import { SIDE_ROLES, VERDICTS } from '@jade-fence/core';
import { type Command, Option } from 'commander';

/** Which requests of a replay. */
export interface FilterGiven {
  readonly rule?: string;
  readonly policy?: string;
  readonly role?: string;
  readonly verdict?: string;
  readonly country?: string;
  readonly client?: string;
  readonly host?: string;
  readonly path?: string;
  readonly method?: string;
  readonly status?: string;
  readonly category?: string;
  readonly application?: string;
  readonly from?: string;
  readonly to?: string;
}

/** Gives a command the options that say which requests of a replay it is about. */
export const withFilter = (command: Command): Command =>
  command
    .option('--rule <name>', 'those of this rule; `default` for those that no rule decided')
    .addOption(
      new Option('--role <role>', 'what the rule did with them (default: decided)').choices(['decided', ...SIDE_ROLES]),
    )
    .option('--policy <name>', 'those that this policy judged')
    .addOption(new Option('--verdict <verdict>', 'those with this verdict').choices([...VERDICTS, 'uncovered']))
    .option('--country <code>', 'those from there; also `private`, `unknown`, `unseen`')
    .option('--client <addresses>', 'those of this client: an address, a network or a range')
    .option('--host <host>', 'those to this host; `.name` for all under it too')
    .option('--path <path>', 'those to paths like this, as in rules')
    .option('--method <method>', 'those with this method')
    .option('--status <status>', 'those answered so at the time, by the log; also `4xx`')
    .option('--category <name>', 'those in this category; also `uncategorised`')
    .option('--application <name>', 'those of this application; also `unidentified`')
    .option('--from <time>', 'those from this time on')
    .option('--to <time>', 'those before this time');
