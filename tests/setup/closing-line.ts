import type { Reporter, TestModule } from 'vitest/node';

/**
 * Closes the run with the tests that passed at their second try only, which want to be looked into, and one plain line of
 * counts, for whatever reads only the end of the output.
 */
export default class ClosingLine implements Reporter {
  onTestRunEnd(modules: readonly TestModule[]): void {
    const tests = modules.flatMap((each) => [...each.children.allTests()]);
    const inState = (state: string) => tests.filter((test) => test.result().state === state).length;
    const broken = modules.filter((each) => each.errors().length > 0).length;
    const skipped = inState('skipped');
    for (const test of tests)
      if (test.result().state === 'passed' && (test.diagnostic()?.retryCount ?? 0) > 0)
        console.log(`Passed at the second try only: ${test.module.relativeModuleId} > ${test.fullName}`);
    console.log(
      `\n${inState('passed')} passed, ${inState('failed') + broken} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`,
    );
  }
}
