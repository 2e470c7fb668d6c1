/** A compiled glob: `*` matches any characters within a segment of a path, `**` any characters at all. */
export interface Glob {
  readonly text: string;
  readonly parts: readonly GlobPart[];
}

type GlobPart = string | typeof WITHIN | typeof ACROSS;
const WITHIN = 0;
const ACROSS = 1;

/** Compiles `*` (within a segment) and `**` (across segments). Any text is a glob. */
export function compileGlob(text: string): Glob {
  return {
    text,
    parts: partsOf(text).map((part) => (!part.startsWith('*') ? part : part.length > 1 ? ACROSS : WITHIN)),
  };
}

/** A glob over texts without segments, such as user agents: every star matches any characters. */
export function compileTextGlob(text: string): Glob {
  return { text, parts: partsOf(text).map((part) => (part.startsWith('*') ? ACROSS : part)) };
}

const partsOf = (text: string): string[] => text.split(/(\*+)/).filter((part) => part !== '');

/** The text that every match of the glob starts with. */
export function globPrefix(glob: Glob): string {
  const first = glob.parts[0];
  return typeof first === 'string' ? first : '';
}

/** The text that every match of the glob ends with. */
function globSuffix(glob: Glob): string {
  const last = glob.parts.at(-1);
  return typeof last === 'string' ? last : '';
}

const isSuffixGlob = (glob: Glob): boolean =>
  glob.parts.length === 2 && glob.parts[0] === ACROSS && typeof glob.parts[1] === 'string';

/** Whether the glob is its prefix with anything behind it, so that a test of the prefix is the whole test. */
export const isPrefixGlob = (glob: Glob): boolean =>
  glob.parts.length === 2 && typeof glob.parts[0] === 'string' && glob.parts[1] === ACROSS;

/**
 * Whether the whole path is what the glob says. Keeps the set of places where each part can end, so that the time is
 * at most parts × length whatever the pattern.
 */
export function globMatches(glob: Glob, path: string): boolean {
  if (!path.startsWith(globPrefix(glob)) || !path.endsWith(globSuffix(glob))) return false;
  if (isPrefixGlob(glob) || isSuffixGlob(glob)) return true;
  let places: number[] = [0];
  for (const part of glob.parts) {
    if (part === ACROSS) places = spread(path, places[0] as number, path.length);
    else if (part === WITHIN) places = places.flatMap((place, at) => withinSegment(path, place, places[at - 1]));
    else places = places.filter((place) => path.startsWith(part, place)).map((place) => place + part.length);
    if (places.length === 0) return false;
  }
  return places.at(-1) === path.length;
}

/** The places that `*` can end at from `place`, less those that the place before it has reached already. */
function withinSegment(path: string, place: number, before: number | undefined): number[] {
  const slash = path.indexOf('/', place);
  const end = slash < 0 ? path.length : slash;
  if (before === undefined) return spread(path, place, end);
  const reached = path.indexOf('/', before);
  return reached < 0 || reached >= place ? [] : spread(path, place, end);
}

function spread(path: string, from: number, to: number): number[] {
  const places: number[] = [];
  for (let place = from; place <= Math.min(to, path.length); place++) places.push(place);
  return places;
}
