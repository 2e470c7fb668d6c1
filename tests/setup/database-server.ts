import { rmSync } from 'node:fs';
import { join } from 'node:path';
import type { ProvidedContext } from 'vitest';
import type { TestProject } from 'vitest/node';
import { startManagedServer } from '../../service/dist/database/managed/cluster.js';
import { openFolder } from './folder.js';

declare module 'vitest' {
  interface ProvidedContext {
    /** The folder of the socket of the database server that all test files share. */
    readonly socketDir: string;
  }
}

/** One PostgreSQL server for the whole run; each test file makes databases of its own on it. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = openFolder();
  const server = await startManagedServer({
    dataDir: join(folder, 'data'),
    root: process.getuid?.() === 0,
    path: process.env.PATH ?? '',
  });
  project.provide('socketDir' satisfies keyof ProvidedContext, server.socketDir);
  return async () => {
    await server.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
