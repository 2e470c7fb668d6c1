import { readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import type { SourceFile } from '@jade-fence/core/workspace';
import { EXIT } from '../exit-code.js';
import { Failure, failure } from '../failure.js';

const ENDINGS = /\.ya?ml$/i;
const MOST_FILES = 2000;

/** The workspace files of a folder and the folders in it, by name; or the one file that is named. */
export function readWorkspaceFiles(path: string): SourceFile[] {
  const files = findFiles(path);
  if (files.length === 0) throw failure(EXIT.notHeld, 'no-files', { path });
  if (files.length > MOST_FILES) throw failure(EXIT.notHeld, 'too-many-files', { path, most: MOST_FILES });
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
  return failure(EXIT.notHeld, 'unreadable', { path, why });
}
