import type { Command } from 'commander';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { table } from '../output/table.js';
import { profileNamed, readProfiles, writeProfiles } from '../profiles.js';
import { examples, type Register } from './command.js';

export const registerProfile: Register = (program, act) => {
  const profile: Command = noun(program, 'profile').description(
    'Profiles that `login` made. --profile and JADE_FENCE_PROFILE choose one for a command.',
  );

  profile
    .command('list')
    .summary('all of them; the current one has a star')
    .action(
      act(({ show, terminal, env }) => {
        const { current, profiles } = readProfiles(env);
        const shown = [...profiles].map(([name, { service }]) => ({ name, service, current: name === current }));
        const columns = ['', 'profile', 'service'].map((title) => ({ title }));
        const rows = shown.map((each) => [each.current ? '*' : ' ', safe(each.name), safe(each.service)]);
        show({ profiles: shown }, () =>
          rows.length === 0
            ? 'There is no profile yet. Make one with `jade-fence login`.'
            : table(columns, rows, terminal.paint),
        );
        return undefined;
      }),
    );

  profile
    .command('set')
    .summary('make one the current profile')
    .argument('<profile>', 'its name')
    .addHelpText('after', examples('jade-fence profile set garden'))
    .action(
      act(({ show, env }, name: string) => {
        const all = readProfiles(env);
        const { service } = profileNamed(all, name);
        writeProfiles(env, { ...all, current: name });
        show({ current: name }, () => `Commands go to ${safe(service)} now.`);
        return undefined;
      }),
    );
};
