/** Why the service cannot start, and how to mend it, by codes; a word behind a slash distinguishes texts of one code. */
export const START_MESSAGES = {
  address: ({ host, option }: { host: string; option: string }) => ({
    detail: `This machine has no address ${host}.`,
    remedy: `Choose another with ${option}; 127.0.0.1 always works.`,
  }),
  'data-folder': ({ message }: { message: string }) => ({
    detail: `The data folder cannot be made: ${message}`,
    remedy: 'Choose another with --data-dir.',
  }),
  'data-folder/made': ({ cluster, reason }: { cluster: string; reason: string }) => ({
    detail: `The database cannot be made in ${cluster}: ${reason}`,
    remedy:
      'See that the folder above it can be entered by the user that PostgreSQL runs as, or choose another with --data-dir.',
  }),
  'data-in-use': ({ cluster }: { cluster: string }) => ({
    detail: `Another Jade Fence service is using ${cluster}.`,
    remedy: 'Stop that one, choose another folder with --data-dir, or share a database with DATABASE_URL.',
  }),
  database: ({ reason }: { reason: string }) => ({
    detail: `PostgreSQL does not start: ${reason}`,
    remedy: 'See that the data folder is whole and the disk has room.',
  }),
  'database/brought-up-to-date': ({ message }: { message: string }) => ({
    detail: `The database cannot be used: ${message}`,
    remedy: 'See that DATABASE_URL is right and its user may make tables.',
  }),
  'database/reached': ({ message }: { message: string }) => ({
    detail: `The database cannot be used: ${message}`,
    remedy: 'See that DATABASE_URL is right.',
  }),
  'database/queue': ({ message, schema }: { message: string; schema: string }) => ({
    detail: `The queue of jobs cannot be made in the database: ${message}`,
    remedy: `See that the user of the database may make the schema ${schema} and its tables.`,
  }),
  'no-data': ({ dataDir }: { dataDir: string }) => ({
    detail: `There is no database in ${dataDir}.`,
    remedy: 'Choose the folder with --data-dir.',
  }),
  'no-postgres-user': () => ({
    detail: 'PostgreSQL does not run as root, and there is no user `postgres` to run it as.',
    remedy: 'Install the package `postgresql`, which makes that user, or start Jade Fence as another user.',
  }),
  'no-postgresql': () => ({
    detail: 'PostgreSQL is not installed.',
    remedy: 'Install the package `postgresql`, or set DATABASE_URL to a database that is already there.',
  }),
  'port-in-use': ({ port, host, option }: { port: number; host: string; option: string }) => ({
    detail: `Port ${port} of ${host} is in use by another program.`,
    remedy: `Choose another with ${option}; \`${option} 0\` takes any free one.`,
  }),
  'port-in-use/rights': ({ port, option }: { port: number; option: string }) => ({
    detail: `Port ${port} needs rights that this user does not have.`,
    remedy: `Choose one above 1023 with ${option}.`,
  }),
  'upgrade-failed': ({ version, output }: { version: string; output: string }) => ({
    detail: `The data could not be brought to PostgreSQL ${version}; it is as it was. ${output}`,
    remedy: 'See what pg_upgrade says.',
  }),
  'postgresql-version': ({ version, newest }: { version: string; newest: string | undefined }) => ({
    detail: `The data was made by PostgreSQL ${version}, which is not installed.`,
    remedy: `Install the package \`postgresql-${version}\`${newest === undefined ? '' : `; then \`jade-fence database upgrade\` brings the data to PostgreSQL ${newest}`}.`,
  }),
};

type CodeOf<Name extends string> = Name extends `${infer Code}/${string}` ? Code : Name;
export type StartMessageName = keyof typeof START_MESSAGES;
export type StartErrorCode = CodeOf<StartMessageName>;
