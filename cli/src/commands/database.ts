import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { examples, type Register } from './command.js';

export const registerDatabase: Register = (program, act) => {
  const database = noun(program, 'database').description(
    'Works on the files of a service that is stopped, with the programs of PostgreSQL that are installed here.',
  );

  database
    .command('upgrade')
    .summary('bring the data to the newest PostgreSQL that is installed')
    .option('--data-dir <folder>', 'where the database is kept (default: as for `service run`)')
    .addHelpText(
      'after',
      examples('jade-fence database upgrade', 'jade-fence database upgrade --data-dir /srv/jade-fence'),
    )
    .action(
      act(async ({ show }, { dataDir }: { readonly dataDir?: string }) => {
        const { defaultDataDir, StartError, upgradeCluster } = await import('@jade-fence/service');
        const root = process.getuid?.() === 0;
        try {
          const folder = dataDir ?? defaultDataDir(process.env, root);
          show(await upgradeCluster(folder, root, process.env.PATH ?? ''), ({ from, to, kept }) =>
            kept === undefined
              ? `The data is of PostgreSQL ${from} already, the newest that is installed.`
              : `Brought the data from PostgreSQL ${from} to ${to}. As it was it is kept in ${safe(kept)}; delete it once all is well.`,
          );
          return undefined;
        } catch (error) {
          if (!(error instanceof StartError)) throw error;
          throw new Failure(EXIT.service, { code: error.code, detail: error.message, remedy: error.remedy });
        }
      }),
    );
};
