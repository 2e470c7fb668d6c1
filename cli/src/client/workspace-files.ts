import { readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import type { SourceFile } from '@jade-fence/core/workspace';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';

const ENDINGS = /\.ya?ml$/i;
const MOST_FILES = 2000;

/** The workspace files of a folder and the folders in it, by name; or the one file that is named. */
export function readWorkspaceFiles(path: string): SourceFile[] {
  const files = findFiles(path);
  if (files.length === 0)
    throw new Failure(EXIT.notHeld, {
      code: 'no-files',
      detail: `${path} holds no workspace files.`,
      remedy: 'They end in .yaml or .yml.',
    });
  if (files.length > MOST_FILES)
    throw new Failure(EXIT.notHeld, {
      code: 'too-many-files',
      detail: `${path} holds more than ${MOST_FILES} workspace files.`,
      remedy: 'Name the folder of the workspace itself.',
    });
  return files.map((file) => ({
    name: file === path ? basename(path) : relative(path, file),
    text: readFileSync(file, 'utf8'),
  }));
}

function findFiles(path: string): string[] {
  try {
    if (statSync(path).isFile()) return [path];
    return readdirSync(path, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile() && ENDINGS.test(entry.name))
      .map((entry) => join(entry.parentPath, entry.name))
      .filter((file) => !/(^|\/)(?:node_modules|\.git)\//.test(relative(path, file)))
      .sort();
  } catch (error) {
    throw unreadable(path, error as NodeJS.ErrnoException);
  }
}

export function unreadable(path: string, error: NodeJS.ErrnoException): Failure {
  const why =
    error.code === 'ENOENT'
      ? 'is not there'
      : error.code === 'EACCES'
        ? 'may not be read'
        : `cannot be read: ${error.message}`;
  return new Failure(EXIT.notHeld, { code: 'unreadable', detail: `${path} ${why}.` });
}
