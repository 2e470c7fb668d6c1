import type { AddressColumn, TextColumn } from '../column/index.js';
import type { ClassCountries } from '../engine/index.js';
import type { Kernel } from '../kernel/index.js';
import type { JoinedClients } from './clients.js';
import type { PolicyRun } from './policy-run.js';
import { UNCOVERED_ANSWER } from './tally/share-tally.js';

/** Rows that one policy judged. */
export interface JudgedRows {
  readonly policy: PolicyRun;
  readonly rows: Uint32Array;
  /** For each of the rows the number of its outcome. */
  readonly outcomes: Int32Array;
  /** The outcomes that came, in the order in which they did. */
  readonly distinct: Uint32Array;
  /** For each of the rows the code of its client among those of the chunk. */
  readonly clients: Uint32Array;
}

/** The verdicts of a chunk's rows. */
export interface ChunkVerdicts {
  /** For each row the place of its verdict among the answers. */
  readonly answers: Uint8Array;
  readonly outcomes: TextColumn;
  readonly clients: AddressColumn;
  readonly countries: TextColumn;
  /** For each code of a client that of its country; 0 for none. */
  readonly countryOfClient: Uint32Array;
}

/**
 * The verdicts of the rows of a chunk, policy by policy; `uncovered` are those that no policy covers. `countries` are those
 * of the classes of clients.
 */
export function writeVerdicts(
  kernel: Kernel,
  rows: number,
  judged: readonly JudgedRows[],
  uncovered: Uint32Array,
  clients: JoinedClients,
  countries: ClassCountries,
): ChunkVerdicts {
  kernel.reset();
  const { calls } = kernel;
  const filled = (bytes: number, value: number) => {
    const pointer = kernel.take(bytes);
    kernel.bytes(pointer, bytes).fill(value);
    return pointer;
  };
  const [ofOutcomes, ofClients, ofCountries] = [filled(rows * 4, 0), filled(rows * 4, 0), filled(rows * 4, 0)];
  const answers = filled(rows, UNCOVERED_ANSWER);
  const texts = new Map<string, number>();
  const countryCodes = countriesOf(kernel, clients.classes, countries);
  for (const { policy, rows: own, outcomes, distinct, clients: ownClients } of judged) {
    const isAll = own.length === rows;
    const [outcomesAt, clientsAt] = [kernel.put(outcomes), kernel.put(ownClients)];
    const rowsAt = isAll ? ALL : kernel.put(own);
    const codeOf = kernel.put(outcomeCodes(policy, distinct, texts));
    calls.writeCoded(rowsAt, outcomesAt, own.length, codeOf, ofOutcomes);
    calls.writeAnswers(rowsAt, outcomesAt, own.length, kernel.put(policy.answers()), answers);
    if (isAll) kernel.write(ofClients, ownClients);
    else calls.scatter(rowsAt, clientsAt, own.length, ofClients);
    calls.writeCoded(rowsAt, clientsAt, own.length, countryCodes.pointer, ofCountries);
  }
  // Requests that no policy covers show their peer; they have no country.
  if (uncovered.length > 0)
    calls.scatter(kernel.put(uncovered), kernel.put(clients.peers(uncovered)), uncovered.length, ofClients);
  const { four, six } = clients.dictionary;
  const codesAt = (pointer: number) => kernel.words(pointer, rows).slice();
  return {
    answers: kernel.bytes(answers, rows).slice(),
    outcomes: { type: 'text', dictionary: [...texts.keys()], codes: codesAt(ofOutcomes) },
    clients: { type: 'address', four, six, codes: codesAt(ofClients) },
    countries: { type: 'text', dictionary: countryCodes.dictionary, codes: codesAt(ofCountries) },
    countryOfClient: kernel.words(countryCodes.pointer, clients.classes.length).slice(),
  };
}

/** In place of rows: all of them, in order. */
const ALL = 0;

/** For each outcome that came the code of its text, which gets one where it has none. */
function outcomeCodes(policy: PolicyRun, distinct: Uint32Array, texts: Map<string, number>): Uint32Array {
  const codeOf = new Uint32Array(policy.judge.outcomes.length);
  for (const outcome of distinct) {
    const text = policy.text(outcome);
    const code = texts.get(text) ?? texts.size + 1;
    texts.set(text, code);
    codeOf[outcome] = code;
  }
  return codeOf;
}

/** The countries that clients have, and for each client a pointer to the code of its own. */
function countriesOf(
  kernel: Kernel,
  classOfClient: Int32Array,
  { names, ofClass }: ClassCountries,
): { readonly pointer: number; readonly dictionary: readonly string[] } {
  const { calls } = kernel;
  const count = classOfClient.length;
  const [clients, pointer] = [kernel.put(classOfClient), kernel.take(count * 4)];
  calls.mapClasses(clients, count, kernel.put(ofClass), pointer);
  const marks = kernel.put(new Uint8Array(names.length + 1));
  calls.markClasses(pointer, count, marks);
  // Numbers of countries become codes: only those that clients have are in the dictionary.
  const isUsed = kernel.bytes(marks, names.length + 1);
  const dictionary = names.filter((_, at) => isUsed[at + 1] === 1);
  const codes = new Uint32Array(names.length + 1);
  dictionary.forEach((name, at) => {
    codes[names.indexOf(name) + 1] = at + 1;
  });
  calls.mapClasses(pointer, count, kernel.put(codes), pointer);
  return { pointer, dictionary };
}
