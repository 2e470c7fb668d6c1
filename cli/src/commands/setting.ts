import type { SettingsBody } from '@jade-fence/contract';
import { Option } from 'commander';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { examples, type Register, wholeNumber } from './command.js';

interface Given {
  readonly fourEyes?: 'on' | 'off';
  readonly alerts?: string;
  readonly alertsPrivate?: 'on' | 'off';
  readonly dnsServer?: readonly string[];
  readonly dnsRate?: number;
  readonly dnsPrivateNames?: 'on' | 'off';
  readonly ownDomain?: readonly string[];
}

export const registerSetting: Register = (program, act) => {
  const setting = noun(program, 'setting');

  setting
    .command('list')
    .summary('all of them')
    .option('--alert-secret', 'print the secret that alerts are signed with (Standard Webhooks); for administrators')
    .action(
      act(async ({ client, show }, { alertSecret }: { readonly alertSecret?: boolean }) => {
        if (alertSecret) show(await client.call('GET /settings/alert-secret'), ({ secret }) => secret);
        else show(await client.call('GET /settings'), formatSettings);
        return undefined;
      }),
    );

  setting
    .command('set')
    .summary('change those that are given; for administrators')
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
    .addHelpText(
      'after',
      examples('jade-fence setting set --four-eyes on', 'jade-fence setting set --dns-server 10.40.0.53'),
    )
    .action(
      act(async ({ client, show }, given: Given) => {
        const change = changeOf(given);
        if (Object.values(change).every((value) => value === undefined)) throw failure(EXIT.usage, 'no-setting');
        show(await client.call('PATCH /settings', { body: change }), formatSettings);
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
