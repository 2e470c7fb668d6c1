/**
 * The inner loops of reading logs and of replays. Two implementations are held equal: the compiled ones of `core/kernel`,
 * and the plain ones beside this file. They work on a memory of their own: a pointer is the byte offset of an array there,
 * whose values lie one behind the other; rows are counted from 0. Pointers and counts are not checked: a wrong one reads or
 * writes what is not its own.
 */
export interface KernelCalls {
  /** A pointer to so many bytes, a multiple of 16, until it is released. */
  allocate(bytes: number): number;
  release(pointer: number): void;

  /**
   * The classes of IPv4 addresses. `first`: for each upper half of an address the first interval that starts in it or
   * behind it, u32, 65,537 of them. `low`: the lower half of each start, u16, with 16 bytes of room behind. `classes`: that
   * of each interval, i32 when `wide`, else u16. `values`: u32. `into`: i32.
   */
  classesOfFour(
    first: number,
    low: number,
    classes: number,
    wide: boolean,
    values: number,
    count: number,
    into: number,
  ): void;

  /**
   * The classes of IPv6 addresses, fastest where these are in order. `starts`: those of the intervals, four u32 each with
   * the most significant first, of which the first is all 0. `classes`: that of each, i32. `values`: as `starts`. `into`: i32.
   */
  classesOfSix(starts: number, classes: number, intervals: number, values: number, count: number, into: number): void;

  /** An arena that numbers runs of bytes, from 0, in the order in which they come. */
  newArena(): number;
  releaseArena(arena: number): void;
  /** How many texts, and how many bytes of text an arena has. */
  arenaCount(arena: number): number;
  arenaLength(arena: number): number;
  /**
   * Numbers texts that lie one behind the other in `texts`; `ends`, u32, says where each ends. `ids`, u32: for each its
   * number plus one. `start` and `secret` are those of the thread's hashes.
   */
  intern(arena: number, texts: number, ends: number, count: number, ids: number, start: number, secret: number): void;

  /**
   * Where among `slots`, a power of two, an arena begins to look for a text: who does not know `start` and `secret` cannot
   * choose texts of one slot. For tests.
   */
  slotOf(text: number, length: number, slots: number, start: number, secret: number): number;

  /**
   * Numbers rows, from 0, by their values in several columns: `columns`, u32, has the pointer to each of `width` columns, u32.
   * `ids`, u32, is for each row its number. `row` is room for the values of one row. An arena numbers either texts, or rows
   * of one width.
   */
  internRows(
    arena: number,
    columns: number,
    width: number,
    count: number,
    ids: number,
    row: number,
    start: number,
    secret: number,
  ): void;

  /**
   * Numbers the runs of a field in lines: `seen`, u32, has the bit of the field where a line has one, which begins at an
   * offset in `bytes` and has a length; `starts`, `lengths`: u32. `ids`, i32: its number, from 0, or −1 where there is none.
   */
  internRuns(
    arena: number,
    bytes: number,
    seen: number,
    field: number,
    starts: number,
    lengths: number,
    count: number,
    ids: number,
    start: number,
    secret: number,
  ): void;

  /** The codes of some rows. All are u32. */
  gather(codes: number, rows: number, count: number, into: number): void;

  /**
   * Looks pairs of classes up in a cross-product table: `pairs`, i32, has the number of a left and a right class at left ×
   * `width` + right, or −1 where that is not known. `left` and `right`, u32: the class of each row, or a code whose class
   * is in `leftClasses` or `rightClasses`, i32; 0 where the codes are the classes. Goes from row `from` on, and stops at
   * the first row of which the number is not known; answers that row, or `count`. `into`, i32, may be `left`.
   */
  cross(
    left: number,
    leftClasses: number,
    right: number,
    rightClasses: number,
    pairs: number,
    width: number,
    from: number,
    count: number,
    into: number,
  ): number;

  /**
   * The outcomes of classes, u32, of which the lowest is `base`: `resolved`, i32, has those of the `known` lowest, −2 where
   * one is not resolved. Goes on and stops as `cross`. `into`: i32.
   */
  outcomesOf(
    numbers: number,
    base: number,
    resolved: number,
    known: number,
    from: number,
    count: number,
    into: number,
  ): number;

  /**
   * Numbers rows anew by their `codes` and by two columns more, which have `ones` and `others` codes, in the order in which
   * they come; over `codes`. `known`, u32, has a place for each combination, 0 in each. Writes the first row of each number
   * to `examples`, and answers how many there are. All are u32.
   */
  narrow(
    codes: number,
    one: number,
    ones: number,
    other: number,
    others: number,
    known: number,
    rows: number,
    examples: number,
  ): number;

  /**
   * Classes of addresses by those in two partitions: `pairs`, i32, has that of a pair at shared × `width` + own, or −1 where
   * it is not known. `shared`, i32, below 0 where the address is unseen, whose class is `unseen`; `own`, u32. Goes on and
   * stops as `cross`. `into`: i32.
   */
  pairClasses(
    shared: number,
    own: number,
    width: number,
    pairs: number,
    unseen: number,
    from: number,
    count: number,
    into: number,
  ): number;

  /** Writes values to rows. All are u32. */
  scatter(rows: number, values: number, count: number, into: number): void;

  /** Writes 1 to `marks`, u8, for each class, i32, that is not below 0. */
  markClasses(classes: number, count: number, marks: number): void;
  /** Maps classes, i32, by `map`, u32; those below 0 to 0. `into`: u32. */
  mapClasses(classes: number, count: number, map: number, into: number): void;

  /** Adds 1 for each row at code × `width` + answer. `codes` and `counts`: u32; `answers`: u8. */
  countCoded(codes: number, answers: number, count: number, width: number, counts: number): void;

  /**
   * Counts the outcomes, u32, of some rows, u32; `rows` is 0 for all rows, in order. `times`, f64, has those of all rows, NaN
   * for none. `places`, u32, is 0 for each outcome that there is. Writes the distinct outcomes to `order`, u32, in the order
   * in which they come, and to `sums` three f64 for each: its count, its earliest and its latest time. Answers how many
   * there are.
   */
  countOutcomes(
    outcomes: number,
    rows: number,
    times: number,
    count: number,
    places: number,
    order: number,
    sums: number,
  ): number;

  /** Writes to `into`, u32, at each of the rows, u32, or 0 for all, the code, u32, of its number, u32. */
  writeCoded(rows: number, numbers: number, count: number, codeOf: number, into: number): void;
  /** The same of answers, u8. */
  writeAnswers(rows: number, numbers: number, count: number, answerOf: number, into: number): void;
}

/**
 * Scanners of the lines of logs, which are compiled only: the plain ones that they are held to, and that take their place,
 * are in `log/block`. Bytes are whole lines, with 64 bytes of room behind them. They scan from an offset on until the
 * record of lines is full or the bytes end, and answer how many lines they scanned. The records have pointers of 32 bits:
 *
 * - `lines`: the most lines; of each line the offset of its line feed, i32, as −1 − offset where the line is left to who
 *   reads any line; the bits of its fields, u32, and of those of which it says that there is none, u32; by field × most +
 *   line its numbers, f64, and of its runs the offsets, u32, and the lengths, u32.
 * - `json`: the node of the lines themselves; the ignored keys of that, u32, and for each line where those up to it end;
 *   how many of them there is room for; for each line the bits of the places that it has, u32; a number that is another for
 *   each line; then of a key that is not known its offset, or 0, its length and its node. The line of such a key is not
 *   scanned: the key has the next number in the arena of its node.
 * - A node, of which there is one for each object or list that fields are inside of: an arena of keys; how many of these are
 *   known, and may be; for each what its value is; the line that it was met in last, u32; then for the scanner alone an
 *   array of u32 with room for one key more than there may be, a number, and two arrays of u32; then elements of a list,
 *   each its number and what it is, and how many.
 * - What a value is: its purpose, i32, which is the number of a field, −1 where it is ignored, −2 where the line is left, or
 *   −3 where fields are inside of it; the bit of its place, i32, or −1; the node of what is inside.
 * - `steps` of a pattern: of each a pointer to its text and the length of it, or 0 of a field; the number of the field, −1
 *   where it is not looked at, or −2 of a request line; 1 where it is in quotes.
 */
export interface ScanCalls {
  /** JSON objects. `start` and `secret` are those of the thread's hashes. */
  scanJson(
    bytes: number,
    from: number,
    length: number,
    lines: number,
    json: number,
    start: number,
    secret: number,
  ): number;
  /** Text by a pattern of so many steps; `tunnels` is 1 where request lines of tunnels are taken. */
  scanPattern(
    bytes: number,
    from: number,
    length: number,
    lines: number,
    steps: number,
    count: number,
    tunnels: number,
  ): number;
  /** The common and combined log formats. */
  scanCombined(bytes: number, from: number, length: number, lines: number): number;
}

/** The calls, and the memory that they work on, which is another buffer after it has grown. */
export interface KernelInstance {
  readonly calls: KernelCalls;
  /** Undefined where the host compiles none. */
  readonly scan?: ScanCalls;
  readonly memory: { readonly buffer: ArrayBuffer };
}
