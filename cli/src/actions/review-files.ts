import { prepare } from '@jade-fence/core/engine';
import { type Finding, review } from '@jade-fence/core/review';
import { readWorkspace } from '@jade-fence/core/workspace';
import { readWorkspaceFiles } from '../client/workspace-files.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** The findings about files. They do not say which country data will be in force, so findings about it are left out. */
export function reviewFiles(path: string): Finding[] {
  const { workspace, issueCount } = readWorkspace(readWorkspaceFiles(path));
  if (issueCount > 0)
    throw failure(EXIT.notHeld, 'invalid-workspace', {
      problems: issueCount === 1 ? 'a problem' : `${issueCount} problems`,
      path,
    });
  const prepared = prepare(workspace, { countryData: undefined, at: Date.now() });
  return review(prepared, { countryDate: undefined }).filter(
    ({ code }) => code !== 'no-country-data' && code !== 'no-resolutions',
  );
}
