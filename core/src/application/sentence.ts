import { conditionSentence } from '../condition/index.js';
import type { Application } from './application.js';

/** The conditions and the needs of an application, in one sentence. */
export function applicationSentence({ when, category, risk, needs }: Application): string {
  const of = category === undefined ? '' : `, of the category \`${category.name}\``;
  const at = risk === undefined ? '' : `, of risk ${risk}`;
  const need = needs.length === 0 ? '' : `; it needs ${needs.map(({ name }) => `\`${name}\``).join(' and ')}`;
  return `Known by ${conditionSentence(when)}${of}${at}${need}.`;
}
