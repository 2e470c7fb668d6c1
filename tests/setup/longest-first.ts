import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Files that take longest, so that no worker begins one of them when the others have nothing left to do. */
const LONGEST = [
  'console-pages',
  'console-intents',
  'console-truth',
  'client-deeds',
  'jobs',
  'managed-database',
  'console',
  'console-empty',
  'console-review',
  'imports',
  'publishing',
  'console-whole',
  'bad-input',
  'console-long',
  'console-policies',
  'client',
  'comparison',
];

/** Runs the longest files first. */
export class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const rank = ({ moduleId }: TestSpecification) => {
      const at = LONGEST.findIndex((name) => moduleId.endsWith(`/${name}.test.ts`));
      return at < 0 ? LONGEST.length : at;
    };
    return (await super.sort(files)).toSorted((a, b) => rank(a) - rank(b));
  }
}
