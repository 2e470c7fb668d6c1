import { writeAnswers } from './answers.mjs';
import { must } from './run.mjs';
import { say } from './say.mjs';

/** Compiles what has changed: types of everything, JavaScript for Node, and the console's bundle. */
export function build() {
  say('Building');
  must('node_modules/.bin/tsc', ['-b']);
  writeAnswers();
  must('../node_modules/.bin/vite', ['build', '--logLevel', 'warn'], { cwd: 'console' });
}
