import { type Address, parseAddress, type Words } from '../address/index.js';
import { type DomainSet, domainPatterns, domainSet, slotOfName } from '../domain/index.js';
import { type Answer, type AnswerSource, holdsUntil } from './answer.js';

/**
 * Which addresses hosts have, by the last answer for each. Plain data: a table, and beside it answers that came later.
 * Whoever makes one may go on adding to `later`; all others only read.
 */
export interface Resolutions {
  readonly table: AnswerTable;
  readonly later: ReadonlyMap<string, Answer>;
  /** The number of the state that is kept of them, which rises from state to state. Left out where none is kept. */
  readonly state?: number;
}

/** Answers by host, one behind the other in typed arrays. */
export interface AnswerTable {
  readonly hosts: number;
  readonly names: DomainSet;
  /**
   * For each slot of `names` two words side by side, so that most hosts cost one look: the number of its answer, with
   * `ONE_FOUR` where that is a single IPv4 address, and the value of that address.
   */
  readonly bySlot: Uint32Array;
  /** The words of addresses, IPv4 and IPv6 apart, and for each answer where its own end. */
  readonly four: Uint32Array;
  readonly fourEnds: Uint32Array;
  readonly six: Uint32Array;
  readonly sixEnds: Uint32Array;
  readonly seen: Float64Array;
  /** In seconds; `NOBODY_SAID` for undefined. */
  readonly holds: Uint32Array;
  /** The place of each answer's source in `sources`. */
  readonly from: Uint16Array;
  readonly sources: readonly AnswerSource[];
}

const NOBODY_SAID = 0xffffffff;
const ONE_FOUR = 0x80000000;
const MOST_SOURCES = 0xffff;

/** Answers for one host after another; of several for one host the last counts. */
export function compileAnswers(answers: Iterable<Answer>): AnswerTable {
  const last = new Map<string, Answer>();
  for (const answer of answers) last.set(answer.host, answer);
  const all = [...last.values()];
  const names = domainSet(all.map(({ host }) => ({ reach: 'exact', name: host })));
  const bySlot = new Uint32Array(names.slots.length * 2);
  const four = new Uint32Array(sum(all, 4));
  const six = new Uint32Array(sum(all, 6) * 4);
  const [fourEnds, sixEnds] = [new Uint32Array(all.length), new Uint32Array(all.length)];
  const [seen, holds, from] = [new Float64Array(all.length), new Uint32Array(all.length), new Uint16Array(all.length)];
  const sources = new Sources();
  let [fourEnd, sixEnd] = [0, 0];
  for (const [number, answer] of all.entries()) {
    const place = slotOfName(names, answer.host) * 2;
    const [only, other] = answer.addresses;
    const isOneFour = only?.family === 4 && other === undefined;
    bySlot[place] = isOneFour ? (number | ONE_FOUR) >>> 0 : number;
    bySlot[place + 1] = isOneFour ? only.value : 0;
    for (const address of answer.addresses)
      if (address.family === 4) four[fourEnd++] = address.value;
      else for (const word of address.words) six[sixEnd++] = word;
    fourEnds[number] = fourEnd;
    sixEnds[number] = sixEnd;
    seen[number] = answer.seen;
    holds[number] = Math.min(answer.holds ?? NOBODY_SAID, NOBODY_SAID);
    from[number] = sources.number(answer.from);
  }
  return { hosts: all.length, names, bySlot, four, fourEnds, six, sixEnds, seen, holds, from, sources: sources.all };
}

const sum = (all: readonly Answer[], family: 4 | 6): number =>
  all.reduce((count, { addresses }) => count + addresses.filter((each) => each.family === family).length, 0);

/** Numbers the sources of answers. When there are too many to number, the rest share the last one's number. */
class Sources {
  readonly all: AnswerSource[] = [];
  readonly #numbers = new Map<string, number>();

  number(source: AnswerSource): number {
    const key = `${source.kind} ${source.name}`;
    let number = this.#numbers.get(key);
    if (number === undefined) {
      number = Math.min(this.all.length, MOST_SOURCES);
      this.#numbers.set(key, number);
      if (number === this.all.length) this.all.push(source);
    }
    return number;
  }
}

/** Nothing is known of any host. */
export const NO_RESOLUTIONS: Resolutions = { table: compileAnswers([]), later: new Map() };

/** Whether nothing is known of any host. */
export const isEmpty = ({ table, later }: Resolutions): boolean => table.hosts === 0 && later.size === 0;

/** How many hosts there are answers for. */
export function answeredHosts({ table, later }: Resolutions): number {
  let more = 0;
  for (const host of later.keys()) if (table.hosts === 0 || slotOfName(table.names, host) < 0) more++;
  return table.hosts + more;
}

/** The last answer for a host in normal form; undefined where there is none. */
export function answerFor({ table, later }: Resolutions, host: string): Answer | undefined {
  return later.get(host) ?? answerInTable(table, host);
}

/**
 * The addresses of a host: those of the last answer for it, however old, or the address that the host itself is. Empty
 * where it is known to have none; undefined where nothing is known.
 */
export function addressesFor({ table, later }: Resolutions, host: string): readonly Address[] | undefined {
  const literal = literalOf(host);
  if (literal) return [literal];
  const answer = later.get(host);
  if (answer) return answer.addresses;
  const number = numberOf(table, host);
  return number < 0 ? undefined : addressesOf(table, number);
}

/** The value of the only address of a host, where that is of IPv4 and in the table; −1 for all else. */
export function onlyFour({ table, later }: Resolutions, host: string): number {
  const slot = table.hosts === 0 || (later.size > 0 && later.has(host)) ? -1 : slotOfName(table.names, host);
  if (slot < 0 || (table.bySlot[slot * 2] as number) < ONE_FOUR) return -1;
  return table.bySlot[slot * 2 + 1] as number;
}

/** All answers, in no order. */
export function* allAnswers({ table, later }: Resolutions): Generator<Answer> {
  for (const { name } of domainPatterns(table.names)) if (!later.has(name)) yield answerInTable(table, name) as Answer;
  yield* later.values();
}

/** The address that a host in normal form is; undefined for a name. */
export function literalOf(host: string): Address | undefined {
  if (host.includes(':')) return parseAddress(host.replace(/^\[(.*)\]$/, '$1'));
  const last = host.charCodeAt(host.length - 1);
  // A name never ends with a label of digits alone.
  return last >= ZERO && last <= NINE ? parseAddress(host) : undefined;
}

const ZERO = 48;
const NINE = 57;

function numberOf({ hosts, names, bySlot }: AnswerTable, host: string): number {
  const slot = hosts === 0 ? -1 : slotOfName(names, host);
  return slot < 0 ? -1 : ((bySlot[slot * 2] as number) & ~ONE_FOUR) >>> 0;
}

function answerInTable(table: AnswerTable, host: string): Answer | undefined {
  const number = numberOf(table, host);
  if (number < 0) return undefined;
  const holds = table.holds[number] as number;
  return {
    host,
    addresses: addressesOf(table, number),
    seen: table.seen[number] as number,
    holds: holds === NOBODY_SAID ? undefined : holds,
    from: table.sources[table.from[number] as number] as AnswerSource,
  };
}

function addressesOf({ four, fourEnds, six, sixEnds }: AnswerTable, number: number): Address[] {
  const found: Address[] = [];
  const fourEnd = fourEnds[number] as number;
  for (let at = number === 0 ? 0 : (fourEnds[number - 1] as number); at < fourEnd; at++)
    found.push({ family: 4, value: four[at] as number });
  const sixEnd = sixEnds[number] as number;
  for (let at = number === 0 ? 0 : (sixEnds[number - 1] as number); at < sixEnd; at += 4)
    found.push({ family: 6, words: [...six.subarray(at, at + 4)] as unknown as Words });
  return found;
}

/** Whether a host is to be resolved: it is a name, and nothing is known of it that still holds at the instant. */
export function isToResolve(resolutions: Resolutions, host: string, now: number): boolean {
  if (literalOf(host)) return false;
  const answer = answerFor(resolutions, host);
  if (answer === undefined) return true;
  const until = holdsUntil(answer);
  return until !== undefined && until <= now;
}
