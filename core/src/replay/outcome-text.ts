import type { Outcome, Unseen } from '../engine/index.js';
import type { Verdict } from '../policy/index.js';

/** The outcome of a request, as a replay stores it; rules are given by the numbers of their slots. */
export interface KeptOutcome {
  readonly verdict: Verdict;
  readonly slot: number;
  readonly observed: readonly number[];
  readonly tagged: readonly number[];
  readonly overtaken: readonly number[];
  readonly blind: readonly { readonly slot: number; readonly unseen: readonly Unseen[] }[];
}

/** `verdict|slot|observed|tagged|overtaken|blind:fields`, with commas between the rules of one role. */
export function formatOutcome(outcome: Outcome, firstSlot: number): string {
  const slots = (rules: readonly number[]) => rules.map((rule) => firstSlot + rule).join();
  const { verdict, decidedBy, observed, tagged, overtaken, blind } = outcome;
  const blinded = blind.map(({ rule, unseen }) => `${firstSlot + rule}:${unseen.map(encodeURIComponent).join('+')}`);
  return [verdict, firstSlot + decidedBy, slots(observed), slots(tagged), slots(overtaken), blinded.join()].join('|');
}

/** Reads an outcome from the text that it is stored as. The text must come from `formatOutcome`. */
export function parseOutcome(text: string): KeptOutcome {
  const [verdict, slot, observed, tagged, overtaken, blind] = text.split('|') as [
    string,
    string,
    string,
    string,
    string,
    string,
  ];
  const items = (list: string) => (list === '' ? [] : list.split(','));
  return {
    verdict: verdict as Verdict,
    slot: Number(slot),
    observed: items(observed).map(Number),
    tagged: items(tagged).map(Number),
    overtaken: items(overtaken).map(Number),
    blind: items(blind).map((each) => {
      const [number, fields] = each.split(':') as [string, string];
      return { slot: Number(number), unseen: fields.split('+').map((field) => decodeURIComponent(field) as Unseen) };
    }),
  };
}
