import { expect, it } from 'vitest';
import { compiledInstance, Kernel, type KernelInstance, plainInstance } from './index.js';

it.each([
  ['compiled', compiledInstance],
  ['plain', plainInstance],
])('scratch of any size holds what was put there until it is given back: %s', (_, instance) => {
  const kernel = new Kernel(instance() as KernelInstance);
  for (const size of [10, 300_000, 5, 1_000_000, 300_000]) {
    kernel.reset();
    const values = [size, size + 1, 3].map((length) => Uint32Array.from({ length }, (_, at) => at ^ length));
    const places = values.map((each) => kernel.put(each));
    const kept = kernel.keep(Uint32Array.of(size));
    for (const [at, each] of values.entries())
      expect(kernel.words(places[at] as number, each.length).every((value, index) => value === each[index])).toBe(true);
    expect([...kernel.words(kept, 1)]).toEqual([size]);
    kernel.calls.release(kept);
  }
});

it('says so when there is no memory left, and goes on with what there is', () => {
  const kernel = new Kernel(compiledInstance() as KernelInstance);
  const kept = kernel.keep(Uint32Array.of(1, 2, 3));
  for (const size of [0x7ffffff0, 0x7fff0000, 0x40000000]) {
    const all = () => {
      for (let times = 0; times < 3; times++) kernel.calls.allocate(size);
    };
    expect(all).toThrow('No memory left for a replay or an import. Run fewer at once, or replays of fewer rules.');
  }
  expect([...kernel.words(kept, 3)]).toEqual([1, 2, 3]);
  expect([...kernel.words(kernel.put(Uint32Array.of(4)), 1)]).toEqual([4]);
});
