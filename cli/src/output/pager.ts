import { spawnSync } from 'node:child_process';

/** What text longer than a screen is shown with, where nothing else is chosen. */
const USUAL = 'less';
/** Colours as they are, no page where it fits, and the screen kept. */
const USUAL_OPTIONS = 'FRX';

/**
 * The pager of a terminal: JADE_FENCE_PAGER, else PAGER, else `less`. Undefined where one of them is empty or `cat`, which
 * is how people say that they want none.
 */
export function pagerOf(env: NodeJS.ProcessEnv): string | undefined {
  const chosen = (env.JADE_FENCE_PAGER ?? env.PAGER ?? USUAL).trim();
  return chosen === '' || chosen === 'cat' ? undefined : chosen;
}

/** Shows text in the pager. False where there is no such program, so that the text has to be written as it is. */
export function showInPager(pager: string, text: string, env: NodeJS.ProcessEnv): boolean {
  const shown = spawnSync(pager, {
    input: text,
    stdio: ['pipe', 'inherit', 'inherit'],
    shell: true,
    env: { LESS: USUAL_OPTIONS, ...env },
  });
  // 127: the shell found no program of the name.
  return shown.error === undefined && shown.status !== 127;
}
