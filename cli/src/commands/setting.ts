import { Option } from 'commander';
import type { Register } from './command.js';

interface SettingsBody {
  readonly fourEyes: boolean;
}

interface Given {
  readonly fourEyes?: 'on' | 'off';
}

export const registerSetting: Register = (program, act) => {
  program
    .command('settings')
    .summary('what administrators chose for the service, or change it')
    .addOption(
      new Option('--four-eyes <state>', 'whether what one person wants to publish is published by another').choices([
        'on',
        'off',
      ]),
    )
    .action(
      act(async ({ client, show }, { fourEyes }: Given) => {
        const settings =
          fourEyes === undefined
            ? await client.get<SettingsBody>('/api/settings')
            : await client.patch<SettingsBody>('/api/settings', { fourEyes: fourEyes === 'on' });
        show(settings, (body) => `four-eyes  ${body.fourEyes ? 'on' : 'off'}`);
        return undefined;
      }),
    );
};
