import type { PolicyBody } from '@jade-fence/contract';
import { table } from '../output/table.js';
import { verdictWord } from '../output/verdict.js';
import { examples, type Register } from './command.js';

export const registerPolicy: Register = (program, act) => {
  program
    .command('policy')
    .summary('one policy, its rules in order, each in a sentence')
    .description('Shows a policy as an ordered run of rules, each with a sentence of plain language.')
    .argument('<name>', 'the policy')
    .option('--text', 'print its document as it is stored')
    .addHelpText(
      'after',
      examples('jade-fence policy ticket-site', 'jade-fence policy ticket-site --text > ticket-site.yaml'),
    )
    .action(
      act(async ({ client, show, terminal }, name: string, { text }: { readonly text?: boolean }) => {
        const policy = await client.call('GET /policies/:name', { params: { name } });
        show(policy, (answer) => (text ? answer.text : formatPolicy(answer, terminal.paint)));
        return undefined;
      }),
    );
};

function formatPolicy(policy: PolicyBody, paint: Parameters<typeof table>[2]): string {
  const rows = policy.rules.map((rule, index) => [
    String(index + 1),
    rule.rule,
    verdictWord(rule.then, paint),
    rule.stance === 'enforce' ? '' : paint.yellow(rule.stance),
    rule.sentence,
  ]);
  const last = ['', 'default', verdictWord(policy.default.then, paint), '', policy.default.sentence];
  const columns = [
    { title: '#', align: 'right' as const },
    ...['rule', 'then', 'stance', 'what it does'].map((title) => ({ title })),
  ];
  return `${paint.bold(policy.policy)}${policy.note ? `  ${paint.dim(policy.note)}` : ''}\n${table(columns, [...rows, last], paint)}`;
}
