import { noun } from '../nouns.js';
import { examples, type Register } from './command.js';

interface Given {
  readonly in: string;
  readonly above?: string;
  readonly rule?: string;
}

export const registerApplication: Register = (program, act) => {
  noun(program, 'application')
    .command('allow')
    .summary('add a rule that allows an application with all that it needs')
    .description(
      'An application fails silently where another that it needs is not allowed. Adds one rule to a policy of the draft that allows both; the review reports a rule above that decides first.',
    )
    .argument('<application>', 'the application')
    .requiredOption('--in <policy>', 'the policy')
    .option('--above <rule>', 'the rule to put it above (default: it is the last)')
    .option('--rule <name>', 'what to call the rule (default: `allow-` and the application)')
    .addHelpText('after', examples('jade-fence application allow web --in visitor-web --above no-uploads'))
    .action(
      act(async ({ client, show }, application: string, { in: policy, above, rule }: Given) => {
        const added = await client.call('POST /policies/:name/allow', {
          params: { name: policy },
          body: { application, above, rule },
        });
        show(added, ({ rule: name, needs }) => {
          const more = needs.length === 0 ? '; it needs nothing else' : `, with what it needs: ${needs.join(', ')}`;
          return `Rule ${name} of ${policy} allows ${application}${more}.`;
        });
        return undefined;
      }),
    );
};
