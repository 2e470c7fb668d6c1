import type { EffectiveBody } from '@jade-fence/contract';
import type { EffectivePolicy } from '@jade-fence/core/effective';
import { safe } from './safe.js';
import type { Paint } from './terminal.js';

/** What the policies can do to one client: only the rules that can apply to it, each simplified for it. */
export function formatEffective({ client, probe, country, policies }: EffectiveBody, paint: Paint): string {
  const who = probe === null ? (client ?? 'a client') : `probe ${probe}${client === null ? '' : ` at ${client}`}`;
  const where = country === null ? '' : country === 'private' ? ', in private address space' : `, in ${country}`;
  if (policies.length === 0) return `No policy covers ${who}${where}, and none covers sites.`;
  return [`What ${paint.bold(who)}${where} can meet:`, ...policies.map((each) => formatPolicy(each, paint))].join(
    '\n\n',
  );
}

function formatPolicy({ policy, stance, rules, leftOut, default: rest }: EffectivePolicy, paint: Paint): string {
  const width = Math.max(7, ...rules.map(({ rule }) => rule.length));
  const line = (name: string, sentence: string, mark = '') =>
    `  ${paint.bold(name.padEnd(width))}  ${safe(sentence)}${paint.dim(mark)}`;
  const lines = rules.map(({ rule, sentence, always }) => line(rule, sentence, always ? ' (always)' : ''));
  const reasons = [...new Set(leftOut.map(({ why }) => why))];
  const left = reasons.map((reason) => {
    const names = leftOut.filter(({ why }) => why === reason).map(({ rule }) => rule);
    return paint.dim(`  not listed, since ${reason}: ${names.join(', ')}`);
  });
  return [
    `${paint.bold(policy)}${stance === 'enforce' ? '' : paint.yellow(` (${stance})`)}`,
    ...lines,
    ...(rest === null ? [] : [line('default', rest)]),
    ...left,
  ].join('\n');
}
