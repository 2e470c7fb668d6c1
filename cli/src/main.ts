import { EXIT } from './exit-code.js';
import { createTerminal } from './output/terminal.js';
import { run } from './program.js';

// A reader such as `head` that has seen enough is no fault.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});

// Commands that have something to end, such as a replay that is under way, listen themselves.
process.on('SIGINT', () => {
  if (process.listenerCount('SIGINT') === 1) process.exit(EXIT.interrupted);
});

process.exitCode = await run(process.argv.slice(2), createTerminal(process, process.env), process.env);
