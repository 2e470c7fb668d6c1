import type { DifferenceBody } from '@jade-fence/contract';

/** The edits of the draft in words, with who made them. */
export const editsIn = ({ changes, countryData }: DifferenceBody): string[] => [
  ...changes.flatMap(({ kind, name, change, words, by }) =>
    (words.length > 0 ? words : [`it was ${change}`]).map(
      (what) => `${kind} \`${name}\`, by ${by ?? 'somebody'}: ${what}`,
    ),
  ),
  ...(countryData === null ? [] : [countryData]),
];
