import { formatAddress, parseAddress } from '../address/index.js';
import type { Answer, AnswerSource } from './answer.js';

/** Answers as they are kept: grouped by their sources, a row for each. */
export function packAnswers(answers: Iterable<Answer>): PackedAnswers[] {
  const groups = new Map<string, { from: AnswerSource; rows: string[] }>();
  for (const answer of answers) {
    const key = `${answer.from.kind} ${answer.from.name}`;
    const group = groups.get(key) ?? { from: answer.from, rows: [] };
    groups.set(key, group);
    const { host, addresses, seen, holds } = answer;
    group.rows.push(`${host},${addresses.map(formatAddress).join(' ')},${seen},${holds ?? ''}`);
  }
  return [...groups.values()].map(({ from, rows }) => ({ from, rows: rows.join('\n') }));
}

export interface PackedAnswers {
  readonly from: AnswerSource;
  /** A line for each answer, all in normal form; the time in milliseconds since 1970. */
  readonly rows: string;
}

/** What `packAnswers` wrote. */
export function* unpackAnswers(packed: readonly PackedAnswers[]): Generator<Answer> {
  for (const { from, rows } of packed) {
    if (rows === '') continue;
    for (const row of rows.split('\n')) {
      const [host = '', texts = '', seen = '', holds = ''] = row.split(',');
      const addresses =
        texts === '' ? [] : texts.split(' ').map((text) => parseAddress(text) as Answer['addresses'][0]);
      yield { host, addresses, seen: Number(seen), holds: holds === '' ? undefined : Number(holds), from };
    }
  }
}
