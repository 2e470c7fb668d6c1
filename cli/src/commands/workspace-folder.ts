import type { ObjectBody } from '@jade-fence/contract';
import {
  changedFiles,
  type Fetched,
  filesOf,
  keyOf,
  noteFetched,
  readFetched,
  writeFetched,
} from '../client/folder.js';
import { readWorkspaceFiles } from '../client/workspace-files.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { formatChangedObjects } from '../output/change.js';
import { count } from '../output/table.js';
import { examples, type Register } from './command.js';

interface PullGiven {
  readonly state?: string;
  readonly overwrite?: boolean;
}

export const registerWorkspaceFolder: Register = (program, act) => {
  noun(program, 'workspace')
    .command('pull')
    .summary('write the workspace into a folder of files')
    .description(
      'Writes every object of the draft into the folder, comments and all: into the file that it came from, or one of its own. Files that were changed in the folder since are not overwritten.',
    )
    .argument('<folder>', 'the folder; it is made where there is none')
    .option('--overwrite', 'also write over files that were changed')
    .addHelpText(
      'after',
      examples('jade-fence workspace pull garden', 'jade-fence workspace pull garden && cd garden && ls'),
    )
    .action(
      act(async ({ client, show }, folder: string, { overwrite }: PullGiven) => {
        const { objects } = await client.all('GET /objects');
        const files = filesOf(objects);
        const before = readFetched(folder);
        const changed = changedFiles(folder, files, before);
        if (changed.length > 0 && !overwrite)
          throw failure(
            EXIT.notHeld,
            'files-changed',
            { folder },
            { issues: changed.map((path) => ({ path, what: 'is not as it was fetched' })) },
          );
        writeFetched(folder, objects, files, before);
        show(
          { folder, files: files.map(({ name }) => name), objects: objects.length },
          () => `Wrote ${count(objects.length)} objects into ${count(files.length)} files of ${folder}.`,
        );
        return undefined;
      }),
    );

  noun(program, 'workspace')
    .command('push')
    .summary('bring a folder that was pulled, and edited, back into the draft')
    .description(
      'Sends what was changed, added and removed in the folder since it was pulled. Changes that others made since are not overwritten: when both changed an object, nothing is changed, and the objects are listed.',
    )
    .argument('<folder>', 'the folder')
    .option('--dry-run', 'check and show the changes, and make none')
    .addHelpText('after', examples('jade-fence workspace push garden --dry-run', 'jade-fence workspace push garden'))
    .action(
      act(async ({ client, show, terminal }, folder: string, { dryRun = false }: { readonly dryRun?: boolean }) => {
        const fetched = readFetched(folder);
        if (!fetched) throw failure(EXIT.notHeld, 'not-pulled', { folder });
        const files = readWorkspaceFiles(folder);
        const body = { files, exact: true, dryRun, base: fetched.versions };
        const changes = await client.call('PUT /workspace', { body });
        if (!dryRun) {
          const { objects } = await client.all('GET /objects');
          // Others may have added objects meanwhile; those are not of this folder.
          const pushed = new Set(changes.changes.filter(({ change }) => change !== 'removed').map(keyOf));
          const ours = objects.filter((object) => pushed.has(keyOf(object)) || keyOf(object) in fetched.versions);
          noteFetched(folder, withVersions(ours, pushed, fetched), files);
        }
        show(changes, (answer) => {
          const shown = formatChangedObjects(answer.changes, terminal.paint);
          return dryRun ? `${shown} This was a dry run; nothing was stored.` : shown;
        });
        return undefined;
      }),
    );
};

/** What was pushed is at its version now; what the folder left alone, at the one that it was fetched at. */
const withVersions = (objects: readonly ObjectBody[], pushed: ReadonlySet<string>, fetched: Fetched): ObjectBody[] =>
  objects.map((object) => ({
    ...object,
    version: pushed.has(keyOf(object)) ? object.version : (fetched.versions[keyOf(object)] ?? object.version),
  }));
