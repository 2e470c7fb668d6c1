import type { SettingsBody } from '@jade-fence/contract';
import { Option } from 'commander';
import { safe } from '../output/safe.js';
import { type Register, wholeNumber } from './command.js';

interface Given {
  readonly fourEyes?: 'on' | 'off';
  readonly alerts?: string;
  readonly alertsPrivate?: 'on' | 'off';
  readonly alertSecret?: boolean;
  readonly dnsServer?: readonly string[];
  readonly dnsRate?: number;
  readonly dnsPrivateNames?: 'on' | 'off';
  readonly ownDomain?: readonly string[];
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
    .option('--dns-server <addresses...>', 'the DNS servers that hosts are looked up by, as 10.40.0.53; `off` for none')
    .option('--dns-rate <hosts>', 'the most hosts that are looked up a second', wholeNumber(1, 1000))
    .addOption(
      new Option(
        '--dns-private-names <state>',
        'whether names of private networks may be sent to servers outside',
      ).choices(['on', 'off']),
    )
    .option('--own-domain <domains...>', 'domains of your own, whose names are private too; `off` for none')
    .option('--alert-secret', 'print the secret that alerts are signed with (Standard Webhooks); for administrators')
    .action(
      act(async ({ client, show }, given: Given) => {
        if (given.alertSecret) {
          show(await client.call('GET /settings/alert-secret'), ({ secret }) => secret);
          return undefined;
        }
        const change = changeOf(given);
        const isAsked = Object.values(change).every((value) => value === undefined);
        const settings = await (isAsked
          ? client.call('GET /settings')
          : client.call('PATCH /settings', { body: change }));
        show(settings, formatSettings);
        return undefined;
      }),
    );
};

const isOn = (state: 'on' | 'off' | undefined): boolean | undefined => state && state === 'on';
const namesOf = (names: readonly string[] | undefined): readonly string[] | undefined =>
  names?.length === 1 && names[0] === 'off' ? [] : names;

const changeOf = (given: Given) => ({
  fourEyes: isOn(given.fourEyes),
  alertUrl: given.alerts === 'off' ? '' : given.alerts,
  alertPrivate: isOn(given.alertsPrivate),
  dnsServers: namesOf(given.dnsServer),
  dnsPerSecond: given.dnsRate,
  dnsPrivateNames: isOn(given.dnsPrivateNames),
  dnsOwnDomains: namesOf(given.ownDomain),
});

function formatSettings(body: SettingsBody): string {
  const { dnsServers, dnsPerSecond, dnsPrivateNames, dnsOwnDomains } = body;
  const names = dnsPrivateNames ? ', private names outside too' : '';
  return [
    `four-eyes    ${body.fourEyes ? 'on' : 'off'}`,
    `alerts       ${safe(body.alertUrl ?? 'off')}${body.alertPrivate ? ' (private addresses allowed)' : ''}`,
    `DNS servers  ${dnsServers.length === 0 ? 'off' : `${dnsServers.join(', ')} (${dnsPerSecond} hosts a second${names})`}`,
    ...(dnsOwnDomains.length === 0 ? [] : [`own domains  ${dnsOwnDomains.join(', ')}`]),
  ].join('\n');
}
