import { type Issue, suggest } from '../issue/index.js';
import { findCircles } from '../list/index.js';
import type { Application } from './application.js';

/** Finds needs that lead nowhere or in a circle. */
export function checkNeeds(applications: ReadonlyMap<string, Application>): Issue[] {
  const known = [...applications.keys()];
  const unknown = [...applications.values()].flatMap(({ needs, file }) =>
    needs
      .filter(({ name }) => !applications.has(name))
      .map(
        ({ name, at }): Issue => ({
          code: 'unknown-name',
          kind: 'application',
          name,
          suggestion: suggest(name, known),
          file,
          ...at,
        }),
      ),
  );
  const circles = findCircles(applications, (application) => application.needs).map(
    ({ names, closing, of }): Issue => ({ code: 'cyclic-needs', names, file: of.file, ...closing.at }),
  );
  return [...unknown, ...circles];
}
