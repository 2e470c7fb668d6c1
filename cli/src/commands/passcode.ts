import { askPassword } from '../actions/ask-password.js';
import { noun } from '../nouns.js';
import { examples, type Register } from './command.js';

export const registerPasscode: Register = (program, act) => {
  const passcode = noun(program, 'passcode').description(
    'Rules name a passcode (`then: {unlock: {passcode: NAME, for: 1h}}`); the passcode itself is no part of the workspace.',
  );

  passcode
    .command('set')
    .summary('set a passcode; standard input gives it where there is no terminal')
    .argument('<name>', 'the name that rules call it by')
    .addHelpText('after', examples('jade-fence passcode set gardeners'))
    .action(
      act(async ({ client, show }, name: string) => {
        await client.call('PUT /passcodes/:name', {
          params: { name },
          body: { passcode: await askPassword('passcode') },
        });
        show({ set: name }, () => `Passcode ${name} is set.`);
        return undefined;
      }),
    );

  passcode
    .command('list')
    .summary('the passcodes that are set, by name')
    .action(
      act(async ({ client, show }) => {
        const answer = await client.all('GET /passcodes');
        show(answer, ({ passcodes }) => passcodes.join('\n') || 'No passcode is set.');
        return undefined;
      }),
    );
};
