import type { CST } from 'yaml';

/** More levels than any document of ours has, and far fewer than would exhaust the stack of the recursive composer. */
const DEEPEST = 100;

/** Passes on the parser's tokens, and ends, with a call of `report`, where something is nested too deeply. */
export function* notTooDeep(tokens: Iterable<CST.Token>, report: () => void): Generator<CST.Token> {
  for (const token of tokens) {
    if (isTooDeep(token)) return report();
    yield token;
  }
}

/** Walks level by level, without recursion. */
function isTooDeep(token: CST.Token): boolean {
  let level: CST.Token[] = [token];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > DEEPEST) return true;
    level = level.flatMap(inside);
  }
  return false;
}

function inside(token: CST.Token): CST.Token[] {
  switch (token.type) {
    case 'document':
      return token.value ? [token.value] : [];
    case 'block-map':
    case 'block-seq':
    case 'flow-collection':
      return token.items.flatMap(({ key, value }) => [key, value].filter((each): each is CST.Token => Boolean(each)));
    default:
      return [];
  }
}
