import { Option } from 'commander';
import { safe } from '../output/safe.js';
import type { Register } from './command.js';

interface SettingsBody {
  readonly fourEyes: boolean;
  readonly alertUrl: string | null;
}

interface Given {
  readonly fourEyes?: 'on' | 'off';
  readonly alerts?: string;
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
    .option('--alerts <url>', 'where alerts of live decisions are sent; `off` for nowhere')
    .action(
      act(async ({ client, show }, { fourEyes, alerts }: Given) => {
        const settings =
          fourEyes === undefined && alerts === undefined
            ? await client.get<SettingsBody>('/api/settings')
            : await client.patch<SettingsBody>('/api/settings', {
                fourEyes: fourEyes && fourEyes === 'on',
                alertUrl: alerts === 'off' ? '' : alerts,
              });
        show(
          settings,
          (body) => `four-eyes  ${body.fourEyes ? 'on' : 'off'}\nalerts     ${safe(body.alertUrl ?? 'off')}`,
        );
        return undefined;
      }),
    );
};
