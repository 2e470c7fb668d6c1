import type { Check } from './check.js';

/** The check in one sentence. */
export function checkSentence({ policy, destinations, cells }: Check): string {
  const probes = new Set(cells.map(({ probe }) => probe.name)).size;
  const by = policy === undefined ? 'the policy that covers each' : `\`${policy.name}\``;
  const counted = (count: number, what: string) => `${count} ${what}${count === 1 ? '' : 's'}`;
  return `${counted(cells.length, 'answer')} of ${counted(probes, 'probe')} at ${counted(destinations.size, 'destination')}, judged by ${by}.`;
}
