import { spawnSync } from 'node:child_process';

/** Runs a program in the foreground and answers whether it ended with 0. */
export function succeeds(program, args, options = {}) {
  return spawnSync(program, args, { stdio: 'inherit', ...options }).status === 0;
}

/** Runs a program, and ends the script as it ended where that is not with 0. */
export function must(program, args, options = {}) {
  const { status } = spawnSync(program, args, { stdio: 'inherit', ...options });
  if (status !== 0) process.exit(status ?? 1);
}
