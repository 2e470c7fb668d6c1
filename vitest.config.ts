import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';
import { LongestFirst } from './tests/setup/longest-first.js';

const reporters = ['default', './tests/setup/closing-line.ts'];

export default defineConfig({
  test: {
    reporters,
    sequence: { sequencer: LongestFirst },
    projects: [
      // Many cases are generated, which takes a busy machine longer than the usual five seconds.
      {
        test: {
          name: 'unit',
          include: ['{core,contract,report,service,cli,demo,console}/src/**/*.test.ts'],
          testTimeout: 60_000,
          // They keep no state between files, and run alone: modules are loaded once a worker, and all cores used.
          isolate: false,
          maxWorkers: availableParallelism(),
        },
      },
      {
        test: {
          name: 'end-to-end',
          include: ['tests/end-to-end/*.test.ts'],
          globalSetup: ['tests/setup/database-server.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          // What comes within a second mostly may take longer on a busy machine.
          expect: { poll: { timeout: 30_000 } },
          // Each file has a service and a database of its own, and keeps nothing in modules: a worker loads them once.
          isolate: false,
          // Two at a time is what two cores take.
          maxWorkers: 2,
          // Where the machine is shared, a browser may meet pauses of seconds: a test is tried once more there, and the output
          // says so. At a desk it is not, so that what comes and goes is seen.
          retry: process.env.CI ? 1 : 0,
          sequence: { groupOrder: 1 },
        },
      },
      {
        test: {
          name: 'fuzz',
          include: ['tests/fuzz/*.test.ts'],
          globalSetup: ['tests/setup/database-server.ts'],
          hookTimeout: 120_000,
          // Begun when all others are, beside the last of them.
          maxWorkers: 2,
          sequence: { groupOrder: 1 },
        },
      },
    ],
  },
});
