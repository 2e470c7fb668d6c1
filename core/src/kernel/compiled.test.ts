import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compiledInstance, Kernel, type KernelCalls, plainInstance } from './index.js';

const kernels = (): readonly [Kernel, Kernel] => {
  const compiled = compiledInstance();
  if (compiled === undefined) throw new Error('this host compiles no WebAssembly');
  return [new Kernel(compiled), new Kernel(plainInstance())];
};

/** What both implementations answer, which must be the same, and how they leave memory. */
function same<T>(work: (kernel: Kernel) => T): T {
  const [compiled, plain] = kernels().map(work) as [T, T];
  expect(compiled).toEqual(plain);
  return compiled;
}

/** Places for words that are read later on. */
const outputs = (kernel: Kernel, count: number, fill = 0xabcdef01) => {
  const place = kernel.take(count * 4);
  kernel.words(place, count).fill(fill);
  return { place, read: () => [...kernel.words(place, count)] };
};

const word = fc.oneof(fc.nat(5), fc.integer({ min: 0, max: 0xffffffff }), fc.constantFrom(0, 0x7fffffff, 0xffffffff));
const codesBelow = (count: number, length = 40) => fc.array(fc.nat(count - 1), { maxLength: length });
const words = (values: readonly number[]) => Uint32Array.from(values);

describe('the compiled loops do what the plain ones do', () => {
  it('for the classes of IPv4 addresses, near and far, in any order', () => {
    // Lower halves of starts in few upper halves, so that some have none, some few and some very many.
    const start = fc.tuple(fc.constantFrom(0, 1, 2, 0x7fff, 0x8000, 0xffff), fc.oneof(fc.nat(0xffff), fc.nat(300)));
    const starts = fc.uniqueArray(start, { maxLength: 400, selector: ([half, low]) => half * 65536 + low });
    fc.assert(
      fc.property(starts, fc.array(word, { maxLength: 60 }), fc.boolean(), (pairs, others, wide) => {
        const all = [...new Set([0, ...pairs.map(([half, low]) => half * 65536 + low)])].sort((a, b) => a - b);
        const values = words([...others, ...all, ...all.map((each) => Math.min(each + 1, 0xffffffff))]);
        const first = Uint32Array.from({ length: 65_537 }, (_, half) => all.findIndex((each) => each >= half * 65536));
        for (let half = 0; half <= 65_536; half++) if (first[half] === 0xffffffff) first[half] = all.length;
        const numbers = all.map((_, at) => (at * 7) % 1000);
        const found = same((kernel) => {
          const into = outputs(kernel, values.length);
          const classes = wide ? Int32Array.from(numbers) : Uint16Array.from(numbers);
          const [firstAt, low] = [kernel.keep(first), kernel.keep(Uint16Array.from(all, (each) => each & 0xffff))];
          const [classesAt, valuesAt] = [kernel.keep(classes), kernel.put(values)];
          kernel.calls.classesOfFour(firstAt, low, classesAt, wide, valuesAt, values.length, into.place);
          return into.read();
        });
        expect(found).toEqual([...values].map((value) => numbers[all.findLastIndex((each) => each <= value)]));
      }),
      { numRuns: 60 },
    );
  });

  it('for the classes of IPv6 addresses', () => {
    const address = fc.array(word, { minLength: 4, maxLength: 4 });
    const inOrder = (a: readonly number[], b: readonly number[]) =>
      (a[0] as number) - (b[0] as number) ||
      (a[1] as number) - (b[1] as number) ||
      (a[2] as number) - (b[2] as number) ||
      (a[3] as number) - (b[3] as number);
    fc.assert(
      fc.property(fc.array(address, { maxLength: 50 }), fc.array(address), fc.boolean(), (made, others, ordered) => {
        const starts = [...new Map([[0, 0, 0, 0], ...made].map((each) => [each.join(), each])).values()].sort(inOrder);
        const values = [...starts, ...others];
        if (ordered) values.sort(inOrder);
        const found = same((kernel) => {
          const into = outputs(kernel, values.length);
          const classes = kernel.put(Int32Array.from(starts.keys()));
          const [startsAt, valuesAt] = [kernel.put(words(starts.flat())), kernel.put(words(values.flat()))];
          kernel.calls.classesOfSix(startsAt, classes, starts.length, valuesAt, values.length, into.place);
          return into.read();
        });
        expect(found).toEqual(values.map((value) => starts.findLastIndex((start) => inOrder(start, value) <= 0)));
      }),
    );
  });

  it('for texts of any bytes and lengths, whatever the secrets, while arenas grow', () => {
    const text = fc.oneof(
      fc.uint8Array({ maxLength: 3 }),
      fc.uint8Array({ maxLength: 40 }),
      fc.tuple(fc.nat(70), fc.nat(1)).map(([length, last]) => Uint8Array.from({ length }, () => last)),
      fc.constant(new Uint8Array(20_000)),
    );
    const rounds = fc.array(fc.array(text, { maxLength: 30 }), { minLength: 1, maxLength: 3 });
    fc.assert(
      fc.property(rounds, fc.nat(5000), fc.integer(), fc.integer(), (made, many, start, secret) => {
        const all = [...made, Array.from({ length: many }, (_, at) => Uint8Array.of(at & 255, at >> 8)), ...made];
        const run = (kernel: Kernel) => {
          const arena = kernel.calls.newArena();
          const ids = all.map((texts) => {
            kernel.reset();
            const into = outputs(kernel, texts.length);
            const bytes = kernel.put(Uint8Array.from(texts.flatMap((each) => [...each])));
            let end = 0;
            const ends = kernel.put(
              Uint32Array.from(texts, ({ length }) => {
                end += length;
                return end;
              }),
            );
            kernel.calls.intern(arena, bytes, ends, texts.length, into.place, start, secret);
            return into.read();
          });
          const count = kernel.calls.arenaCount(arena);
          kernel.calls.releaseArena(arena);
          return { ids, count };
        };
        const { ids, count } = same(run);
        const known = new Map<string, number>();
        for (const [round, texts] of all.entries())
          for (const [at, each] of texts.entries()) {
            const key = each.join();
            known.set(key, known.get(key) ?? known.size + 1);
            if (ids[round]?.[at] !== known.get(key)) throw new Error(`text ${key} has another number`);
          }
        expect(count).toBe(known.size);
      }),
      { numRuns: 25 },
    );
  });

  it('for rows of several columns', () => {
    const rows = fc.array(fc.tuple(word, word, word), { maxLength: 60 });
    fc.assert(
      fc.property(rows, rows, fc.integer({ min: 1, max: 3 }), (first, second, width) => {
        const numbers = same((kernel) => {
          const arena = kernel.calls.newArena();
          return [first, second, first].map((each) => {
            kernel.reset();
            const places = Array.from({ length: width }, (_, at) =>
              kernel.put(words(each.map((row) => row[at] as number))),
            );
            const into = outputs(kernel, each.length);
            const [columns, row] = [kernel.put(words(places)), kernel.take(width * 4)];
            kernel.calls.internRows(arena, columns, width, each.length, into.place, row, 3, 5);
            return into.read();
          });
        });
        expect(numbers[2]).toEqual(numbers[0]);
      }),
    );
  });

  it('for pairs of classes, up to the first that is not known', () => {
    const classes = fc.array(fc.nat(4), { minLength: 6, maxLength: 6 });
    const pairs = fc.array(fc.integer({ min: -1, max: 9 }), { minLength: 25, maxLength: 25 });
    const coded = fc.tuple(fc.option(classes, { nil: undefined }), fc.option(classes, { nil: undefined }));
    const sides = fc.array(fc.tuple(fc.nat(4), fc.nat(4)), { maxLength: 30 });
    fc.assert(
      fc.property(coded, pairs, sides, fc.nat(30), ([ofLeft, ofRight], table, rows, start) => {
        const from = Math.min(start, rows.length);
        same((kernel) => {
          const into = outputs(kernel, rows.length);
          const side = (at: 0 | 1) => kernel.put(words(rows.map((row) => row[at])));
          const pointerTo = (each: readonly number[] | undefined) => (each ? kernel.put(Int32Array.from(each)) : 0);
          const [left, right, known] = [side(0), side(1), kernel.put(Int32Array.from(table))];
          const at = kernel.calls.cross(
            left,
            pointerTo(ofLeft),
            right,
            pointerTo(ofRight),
            known,
            5,
            from,
            rows.length,
            into.place,
          );
          return { at, into: into.read() };
        });
        same((kernel) => {
          const into = outputs(kernel, rows.length);
          const shared = kernel.put(Int32Array.from(rows, ([each]) => (each === 4 ? -1 : each)));
          const own = kernel.put(words(rows.map(([, each]) => each)));
          const known = kernel.put(Int32Array.from(table));
          const at = kernel.calls.pairClasses(shared, own, 5, known, 77, from, rows.length, into.place);
          return { at, into: into.read() };
        });
      }),
    );
  });

  it('for outcomes, up to the first that is not resolved', () => {
    const resolved = fc.array(fc.integer({ min: -2, max: 9 }), { maxLength: 10 });
    fc.assert(
      fc.property(resolved, codesBelow(12), fc.nat(3), (table, classes, base) => {
        same((kernel) => {
          const into = outputs(kernel, classes.length);
          const numbers = kernel.put(words(classes.map((each) => each + base)));
          const known = kernel.put(Int32Array.from(table));
          const { calls } = kernel;
          const at = calls.outcomesOf(numbers, base, known, table.length, 0, classes.length, into.place);
          return { at, into: into.read() };
        });
      }),
    );
  });

  it('for kinds of rows', () => {
    const row = fc.tuple(fc.nat(2), fc.nat(3), fc.nat(4));
    fc.assert(
      fc.property(fc.array(row, { maxLength: 60 }), (rows) => {
        const { kinds, codes, examples } = same((kernel) => {
          const column = (at: 0 | 1 | 2) => kernel.put(words(rows.map((each) => each[at])));
          const [own, one, other] = [column(0), column(1), column(2)];
          const [known, found] = [outputs(kernel, 3 * 4 * 5, 0), outputs(kernel, rows.length)];
          const count = kernel.calls.narrow(own, one, 4, other, 5, known.place, rows.length, found.place);
          return { kinds: count, codes: [...kernel.words(own, rows.length)], examples: found.read().slice(0, count) };
        });
        expect(kinds).toBe(new Set(rows.map(String)).size);
        expect(codes.map((kind) => rows[examples[kind] as number])).toEqual(rows);
      }),
    );
  });

  it('for counts, times and what is written row by row', () => {
    const row = fc.record({
      number: fc.nat(6),
      answer: fc.nat(6),
      time: fc.oneof(fc.constant(Number.NaN), fc.double()),
    });
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 50 }), fc.integer({ min: 1, max: 3 }), (rows, everyth) => {
        const chosen = words([...rows.keys()].filter((at) => at % everyth === 0));
        const isAll = everyth === 1;
        same((kernel) => {
          const { calls } = kernel;
          const own = [...chosen].map((at) => rows[at] as (typeof rows)[number]);
          const numbers = kernel.put(words(own.map(({ number }) => number)));
          const rowsAt = isAll ? 0 : kernel.put(chosen);
          const times = kernel.put(Float64Array.from(rows, ({ time }) => time));
          const [places, order, coded] = [outputs(kernel, 7, 0), outputs(kernel, 7, 0), outputs(kernel, rows.length)];
          const sums = kernel.take(7 * 24);
          const found = calls.countOutcomes(numbers, rowsAt, times, own.length, places.place, order.place, sums);
          const counted = [...kernel.doubles(sums, found * 3)];
          const answers = kernel.put(Uint8Array.from(own, ({ answer }) => answer));
          const counts = outputs(kernel, 7 * 7, 0);
          calls.countCoded(numbers, answers, own.length, 7, counts.place);
          calls.writeCoded(rowsAt, numbers, own.length, kernel.put(words([9, 8, 7, 6, 5, 4, 3])), coded.place);
          const written = kernel.put(new Uint8Array(rows.length).fill(99));
          calls.writeAnswers(rowsAt, numbers, own.length, kernel.put(Uint8Array.from([1, 2, 3, 4, 5, 6, 7])), written);
          const scattered = outputs(kernel, rows.length);
          calls.scatter(kernel.put(chosen), numbers, own.length, scattered.place);
          const gathered = outputs(kernel, own.length);
          calls.gather(scattered.place, kernel.put(chosen), own.length, gathered.place);
          return {
            counted,
            order: order.read().slice(0, found),
            counts: counts.read(),
            coded: coded.read(),
            written: [...kernel.bytes(written, rows.length)],
            scattered: scattered.read(),
            gathered: gathered.read(),
          };
        });
      }),
    );
  });

  it('for marks and maps of classes, of which some are none', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1, max: 5 })), (classes) => {
        const { marks, mapped } = same((kernel) => {
          const [own, marked] = [kernel.put(Int32Array.from(classes)), kernel.put(new Uint8Array(6))];
          const into = outputs(kernel, classes.length);
          kernel.calls.markClasses(own, classes.length, marked);
          kernel.calls.mapClasses(own, classes.length, kernel.put(words([10, 11, 12, 13, 14, 15])), into.place);
          return { marks: [...kernel.bytes(marked, 6)], mapped: into.read() };
        });
        expect(marks.flatMap((mark, at) => (mark === 1 ? [at] : []))).toEqual(
          [...new Set(classes.filter((each) => each >= 0))].sort(),
        );
        expect(mapped).toEqual(classes.map((each) => (each < 0 ? 0 : each + 10)));
      }),
    );
  });

  it('for runs of bytes of which some lines have none', () => {
    const run = fc.tuple(fc.boolean(), fc.nat(40), fc.nat(20));
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 61, maxLength: 61 }), fc.array(run), fc.nat(31), (bytes, runs, field) => {
        const found = same((kernel) => {
          const arena = kernel.calls.newArena();
          const [ids, text] = [outputs(kernel, runs.length), kernel.put(bytes)];
          const seen = kernel.put(words(runs.map(([has]) => (has ? (1 << field) >>> 0 : ~(1 << field) >>> 0))));
          const [starts, lengths] = [1, 2].map((part) => kernel.put(words(runs.map((each) => each[part] as number))));
          const [from, long] = [starts as number, lengths as number];
          kernel.calls.internRuns(arena, text, seen, field, from, long, runs.length, ids.place, 7, 9);
          return ids.read();
        });
        const texts: string[] = [];
        const expected = runs.map(([has, start, length]) => {
          const own = bytes.slice(start, start + length).join();
          if (has && !texts.includes(own)) texts.push(own);
          return has ? texts.indexOf(own) : 0xffffffff;
        });
        expect(found).toEqual(expected);
      }),
    );
  });

  it('and there is no other', () => {
    const calls = (kernel: Kernel): (keyof KernelCalls)[] =>
      Object.entries(kernel.calls)
        .flatMap(([name, call]) => (typeof call === 'function' ? [name as keyof KernelCalls] : []))
        .sort();
    const [compiled, plain] = kernels();
    expect(calls(compiled)).toEqual(calls(plain));
  });
});
