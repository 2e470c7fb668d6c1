/** The lines of one rule of a policy's text. */
interface RuleSlice {
  /** The comments right above it. */
  readonly above: string;
  /** Its text by itself, as a map of YAML. */
  readonly rule: string;
  /** The blank lines behind it, and comments that are less deep than it. */
  readonly behind: string;
}

const BEGINS = /^( *)(- +)(?=\S)/;

/**
 * Takes the lines of one rule apart. Undefined where a line of it, but for comments, is less deep than its first, so that
 * YAML has to say.
 */
export function ruleSlice(slice: string): RuleSlice | undefined {
  const lines = slice.match(/[^\n]*\n/g) ?? [];
  const start = lines.findIndex((line) => BEGINS.test(line));
  const [, indent = '', dash = ''] = BEGINS.exec(lines[start] ?? '') ?? [];
  if (dash === '') return undefined;
  const depth = indent.length + dash.length;
  const isDeep = (line: string) => line.startsWith(' '.repeat(depth)) && line.trim() !== '';
  const isComment = (line: string) => line.trimStart().startsWith('#');
  let end = lines.length;
  while (end > start + 1 && !isDeep(lines[end - 1] as string)) end--;
  const own = lines.slice(start, end).map((line, at) => (at === 0 ? ' '.repeat(depth) + line.slice(depth) : line));
  if ([...own, ...lines.slice(end)].some((line) => !isDeep(line) && line.trim() !== '' && !isComment(line)))
    return undefined;
  return {
    above: lines.slice(0, start).join(''),
    rule: own.map((line) => (isDeep(line) ? line.slice(depth) : `${line.trim()}\n`)).join(''),
    behind: lines.slice(end).join(''),
  };
}

/** The lines of a rule that is indented by `indent` in its policy. Comments at its beginning come above it. */
export function ruleLines(rule: string, indent: string): string {
  const lines = rule.replace(/\s*$/, '\n').match(/[^\n]*\n/g) ?? [];
  let seen = false;
  return lines
    .map((line) => {
      if (line.trim() === '') return seen ? '\n' : '';
      if (!seen && line.startsWith('#')) return indent + line;
      const lead = seen ? '  ' : '- ';
      seen = true;
      return `${indent}${lead}${line}`;
    })
    .join('');
}
