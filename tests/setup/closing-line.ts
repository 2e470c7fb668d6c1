import type { Reporter, TestModule } from 'vitest/node';

/** Closes the run with one plain line of counts, for whatever reads only the end of the output. */
export default class ClosingLine implements Reporter {
  onTestRunEnd(modules: readonly TestModule[]): void {
    const tests = modules.flatMap((each) => [...each.children.allTests()]);
    const inState = (state: string) => tests.filter((test) => test.result().state === state).length;
    const broken = modules.filter((each) => each.errors().length > 0).length;
    const skipped = inState('skipped');
    console.log(
      `\n${inState('passed')} passed, ${inState('failed') + broken} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`,
    );
  }
}
