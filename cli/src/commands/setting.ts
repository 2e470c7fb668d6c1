import { Option } from 'commander';
import { safe } from '../output/safe.js';
import type { Register } from './command.js';

interface Given {
  readonly fourEyes?: 'on' | 'off';
  readonly alerts?: string;
  readonly alertsPrivate?: 'on' | 'off';
  readonly alertSecret?: boolean;
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
    .addOption(
      new Option('--alerts-private <state>', 'whether that may be in private address space').choices(['on', 'off']),
    )
    .option('--alert-secret', 'print the secret that alerts are signed with (Standard Webhooks); for administrators')
    .action(
      act(async ({ client, show }, { fourEyes, alerts, alertsPrivate, alertSecret }: Given) => {
        if (alertSecret) {
          show(await client.call('GET /settings/alert-secret'), ({ secret }) => secret);
          return undefined;
        }
        const settings =
          fourEyes === undefined && alerts === undefined && alertsPrivate === undefined
            ? await client.call('GET /settings')
            : await client.call('PATCH /settings', {
                body: {
                  fourEyes: fourEyes && fourEyes === 'on',
                  alertUrl: alerts === 'off' ? '' : alerts,
                  alertPrivate: alertsPrivate && alertsPrivate === 'on',
                },
              });
        show(
          settings,
          (body) =>
            `four-eyes  ${body.fourEyes ? 'on' : 'off'}\nalerts     ${safe(body.alertUrl ?? 'off')}${body.alertPrivate ? ' (private addresses allowed)' : ''}`,
        );
        return undefined;
      }),
    );
};
