import { parseTime } from '../../text/time.js';

/*
 * What others put in front of a line, or around it, on its way: syslog, container runtimes, the journal. What is inside is
 * read as if it had come by itself; its time is that of the prefix where it has none of its own.
 */
export const PREFIXES = ['syslog', 'container', 'container-json', 'journal-json', 'journal-export'] as const;
export type Prefix = (typeof PREFIXES)[number];

/** The line inside, and the time of its prefix, in milliseconds since 1970. */
export interface Inner {
  readonly text: string;
  readonly time: number | undefined;
  /** Whether the line continues in the next one of the same stream. */
  readonly goesOn: boolean;
  readonly stream: string;
}

/** `<134>1 TIME HOST APP PROCID MSGID SD MSG` (RFC 5424). */
const SYSLOG =
  /^<\d{1,3}>\d{1,2} (\S+) \S+ \S+ \S+ \S+ (?:-|(?:\[(?:[^\]"]|"(?:[^"\\]|\\.)*")*\])+)(?: (?:\xEF\xBB\xBF|\uFEFF)?(.*))?$/s;
/** `<134>Nov  9 08:00:00 host tag[pid]: MSG` (RFC 3164), in files mostly without the priority, and with any time. */
const OLD_SYSLOG =
  /^(?:<\d{1,3}>)?(?:[A-Z][a-z]{2} [ \d]\d \d\d:\d\d:\d\d|(\d{4}-\d\d-\d\dT\S+)) \S+ [^\s:[\]]{1,64}(?:\[\d+\])?: ?(.*)$/s;
/** `TIME stdout F MSG`, the container runtime interface. */
const CONTAINER = /^(\d{4}-\d\d-\d\dT\S+) (stdout|stderr) ([FP])(?::\S*)? (.*)$/s;

type Unwrap = (line: string) => Inner | undefined;

const inner = (text: string, time: string | undefined, goesOn = false, stream = ''): Inner => ({
  text,
  time: time === undefined ? undefined : parseTime(time),
  goesOn,
  stream,
});

function syslog(line: string): Inner | undefined {
  const found = SYSLOG.exec(line) ?? OLD_SYSLOG.exec(line);
  return found ? inner(found[2] ?? '', found[1]) : undefined;
}

function container(line: string): Inner | undefined {
  const found = CONTAINER.exec(line);
  return found ? inner(found[4] as string, found[1], found[3] === 'P', found[2]) : undefined;
}

/** `{"log": "MSG\n", "stream": "stdout", "time": "…"}` */
function containerJson(line: string): Inner | undefined {
  const { log, stream, time } = objectOf(line);
  if (typeof log !== 'string' || (stream !== 'stdout' && stream !== 'stderr') || typeof time !== 'string')
    return undefined;
  return inner(log.replace(/\r?\n$/, ''), time, !log.endsWith('\n'), stream);
}

/** An entry of the journal as an object; a message that is no text comes as a list of bytes. */
function journalJson(line: string): Inner | undefined {
  const { MESSAGE: message, __REALTIME_TIMESTAMP: time } = objectOf(line);
  if (time === undefined || message === undefined) return undefined;
  const text = Array.isArray(message) ? new TextDecoder().decode(Uint8Array.from(message as number[])) : message;
  if (typeof text !== 'string') return undefined;
  return { text, time: microseconds(time), goesOn: false, stream: '' };
}

function microseconds(text: unknown): number | undefined {
  const value = typeof text === 'string' && /^\d{1,17}$/.test(text) ? Number(text) : Number.NaN;
  return Number.isNaN(value) ? undefined : Math.floor(value / 1000);
}

function objectOf(line: string): Readonly<Record<string, unknown>> {
  if (!line.startsWith('{')) return {};
  try {
    return JSON.parse(line) as Record<string, unknown>;
  } catch {
    return {};
  }
}

const UNWRAP: Readonly<Record<Exclude<Prefix, 'journal-export'>, Unwrap>> = {
  syslog,
  container,
  'container-json': containerJson,
  'journal-json': journalJson,
};

const JOURNAL_START = /^__(?:CURSOR|REALTIME_TIMESTAMP)=/;

/** The prefix that most of the lines have; undefined where they have none. */
export function detectPrefix(lines: readonly string[]): Prefix | undefined {
  const filled = lines.filter((line) => line.trim() !== '');
  if (filled.length === 0) return undefined;
  if (JOURNAL_START.test(filled[0] as string)) return 'journal-export';
  return (Object.keys(UNWRAP) as (keyof typeof UNWRAP)[]).find(
    (prefix) => filled.filter((line) => UNWRAP[prefix](line) !== undefined).length > filled.length / 2,
  );
}

/** A line of what was wrapped, by the number of the line that it begins in. */
export interface UnwrappedLine {
  readonly number: number;
  /** Undefined where it is longer than lines may be. */
  readonly text: string | undefined;
  readonly time: number | undefined;
}

/** Takes lines with a prefix and gives those inside; what has no prefix is given as it is. */
export class PrefixReader {
  readonly #prefix: Prefix;
  readonly #longest: number;
  /** The lines that continue, by their streams. */
  readonly #open = new Map<string, UnwrappedLine>();
  /** The time of the entry of the journal at hand, and whether its message is what the next line holds. */
  #time: number | undefined;
  #isMessage = false;

  /** `longest`: a line of parts with more characters is given without its text. */
  constructor(prefix: Prefix, longest: number) {
    this.#prefix = prefix;
    this.#longest = longest;
  }

  /** The line inside; undefined where it goes on, or the line holds none. */
  take(number: number, line: string): UnwrappedLine | undefined {
    if (this.#prefix === 'journal-export') return this.#entry(number, line);
    const found = UNWRAP[this.#prefix](line);
    if (found === undefined) return { number, text: line, time: undefined };
    const open = this.#open.get(found.stream);
    // Of a line that is too long no part may be read: whoever wrote it would choose where the next one begins.
    const before = open === undefined ? '' : open.text;
    const joined = before === undefined ? undefined : before + found.text;
    const text = joined !== undefined && joined.length <= this.#longest ? joined : undefined;
    const begun = { number: open?.number ?? number, text, time: open?.time ?? found.time };
    if (!found.goesOn) this.#open.delete(found.stream);
    else this.#open.set(found.stream, begun);
    return found.goesOn ? undefined : begun;
  }

  /** The lines that continue when the log ends. */
  end(): UnwrappedLine[] {
    const open = [...this.#open.values()].sort((a, b) => a.number - b.number);
    this.#open.clear();
    return open;
  }

  /** A field of the journal's export format; of an entry the message alone is a line. */
  #entry(number: number, line: string): UnwrappedLine | undefined {
    if (this.#isMessage) {
      this.#isMessage = false;
      // The length comes first, as 64 bits; the last byte of it is NUL, as no message is so long.
      return { number, text: line.slice(line.slice(0, LENGTH_BYTES).lastIndexOf('\0') + 1), time: this.#time };
    }
    if (line === '') this.#time = undefined;
    else if (line === 'MESSAGE') this.#isMessage = true;
    else if (line.startsWith('MESSAGE=')) return { number, text: line.slice('MESSAGE='.length), time: this.#time };
    else if (line.startsWith('__REALTIME_TIMESTAMP='))
      this.#time = microseconds(line.slice('__REALTIME_TIMESTAMP='.length));
    return undefined;
  }
}

const LENGTH_BYTES = 8;
