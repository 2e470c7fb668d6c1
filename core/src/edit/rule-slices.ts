/** The text of a policy, cut where its rules begin: put together again, it is what it was to the letter. */
export interface RuleSlices {
  readonly head: string;
  /** Whole lines, each rule with the comments right above it. */
  readonly rules: readonly string[];
  readonly tail: string;
}

/**
 * Cuts a policy at its rules by its lines alone, which is many times faster than reading it as YAML. Undefined where the
 * rules are not written one below the other, or a line leaves it open where a rule begins.
 */
export function rulesIn(policy: string): RuleSlices | undefined {
  const lines = policy.match(/[^\n]*\n|[^\n]+$/g) ?? [];
  const from = lines.findIndex((line) => /^rules:\s*(#.*)?$/.test(line));
  if (from < 0 || /\t|\r/.test(policy)) return undefined;
  const first = lines.findIndex((line, at) => at > from && !isBlank(line) && !isComment(line));
  const indent = /^( *)- /.exec(lines[first] ?? '')?.[1];
  if (indent === undefined) return undefined;
  const ends = lines.findIndex((line, at) => at > from && !isBlank(line) && isAfter(line, indent));
  const end = ends < 0 ? lines.length : aboveComments(lines, ends, '');
  const starts: number[] = [];
  for (let at = first; at < end; at++) {
    const line = lines[at] as string;
    if (line.startsWith(`${indent}- `)) starts.push(aboveComments(lines, at, indent));
    // A line that is no deeper than the rules, and is not a rule, is written in a way that is not handled here.
    else if (!isBlank(line) && !isComment(line) && !line.startsWith(`${indent} `)) return undefined;
  }
  starts[0] = Math.min(starts[0] as number, first);
  const cut = (a: number, b: number) => lines.slice(a, b).join('');
  const last = cut(starts.at(-1) as number, end);
  // Text in which line breaks count must not gain or lose one.
  if (!last.endsWith('\n') || /[|>][+-]?\d?[+-]?\s*(#.*)?\n/.test(policy)) return undefined;
  return {
    head: cut(0, starts[0]),
    rules: starts.map((start, at) => cut(start, starts[at + 1] ?? end)),
    tail: cut(end, lines.length),
  };
}

export const joined = ({ head, rules, tail }: RuleSlices): string => head + rules.join('') + tail;

const isBlank = (line: string): boolean => line.trim() === '';
const isComment = (line: string): boolean => line.trimStart().startsWith('#');

/** Whether a line is of a key behind the rules, or ends the document. */
const isAfter = (line: string, indent: string): boolean =>
  /^[^\s#-]/.test(line) || /^(---|\.\.\.)(\s|$)/.test(line) || (indent !== '' && line.startsWith('- '));

/** Where the comments begin that are right above a line, with the same indentation. */
function aboveComments(lines: readonly string[], at: number, indent: string): number {
  let start = at;
  while (start > 0 && (lines[start - 1] as string).startsWith(`${indent}#`)) start--;
  return start;
}
