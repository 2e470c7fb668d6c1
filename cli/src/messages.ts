const WHERE_THE_KEY_IS =
  'Set JADE_FENCE_KEY, or name the file with --key-file; the service prints the name of the file when it starts.';

/**
 * The text of every failure that the client finds itself, by its code; a word behind a slash distinguishes texts of one
 * code. What the service refuses comes with a text of its own.
 */
export const MESSAGES = {
  'bad-profile-name': ({ name }: { name: string }) => ({
    detail: `\`${name}\` is no name for a profile.`,
    remedy: 'Give one of up to 100 letters, digits and marks without blanks, such as `--as garden`.',
  }),
  'bad-profiles': ({ file }: { file: string }) => ({
    detail: `${file} cannot be read.`,
    remedy: 'Remove it, and sign in again with `jade-fence login`.',
  }),
  'bad-record': ({ file }: { file: string }) => ({
    detail: `${file} cannot be read, so that it is not known what the files were made from.`,
    remedy: 'Pull into an empty folder.',
  }),
  'cut-off': ({ to }: { to: string }) => ({
    detail: `The service ended in the middle; \`${to}\` was not kept.`,
    remedy: 'Try again. The log of the service says why.',
  }),
  'files-changed': ({ folder }: { folder: string }) => ({
    detail: `Files of ${folder} were changed there, so that nothing was written.`,
    remedy: 'Push them first, or write over them with --overwrite.',
  }),
  'import-cancelled': ({ id }: { id: number }) => ({
    detail: `Import ${id} was cancelled.`,
    remedy: 'Import the log again.',
  }),
  internal: ({ shown }: { shown: string }) => ({
    detail: `Something went wrong in the client: ${shown}`,
    remedy: 'Set JADE_FENCE_DEBUG=1 to see where.',
  }),
  'invalid-workspace': ({ problems, path }: { problems: string; path: string }) => ({
    detail: `The files have ${problems}, so there is nothing to review yet.`,
    remedy: `See them with \`jade-fence workspace check ${path}\`.`,
  }),
  'no-access-key': ({ places }: { places: string }) => ({
    detail: `There is no access key at ${places}.`,
    remedy: WHERE_THE_KEY_IS,
  }),
  'no-access-key/elsewhere': ({ service }: { service: string }) => ({
    detail: `There is no key for ${service}.`,
    remedy: 'Sign in with `jade-fence login`, set JADE_FENCE_KEY, or name the file with --key-file.',
  }),
  'no-access-key/unreadable': ({ file }: { file: string }) => ({
    detail: `${file} may not be read.`,
    remedy: WHERE_THE_KEY_IS,
  }),
  'no-access-key/unusable': () => ({
    detail: 'The access key is empty, or has characters that no key has.',
    remedy: 'Take it as it was printed; or sign in with `jade-fence login`.',
  }),
  'no-change-of-entry': () => ({
    detail: 'No change of the entry given.',
    remedy: 'Give --to, --note or --until.',
  }),
  'no-files': ({ path }: { path: string }) => ({
    detail: `${path} holds no workspace files.`,
    remedy: 'They end in .yaml or .yml.',
  }),
  'no-home': () => ({
    detail: 'There is no folder to keep profiles in.',
    remedy: 'Set HOME or XDG_CONFIG_HOME, or name the service and its key with --service and --key-file.',
  }),
  'no-log': () => ({ detail: 'No log given.', remedy: 'Name one that the service holds, or give --import FILE.' }),
  'no-setting': () => ({
    detail: 'No setting given.',
    remedy: 'Give one with its value, such as `--four-eyes on`; `jade-fence setting list` shows them.',
  }),
  'not-encrypted': ({ service }: { service: string }) => ({
    detail: `What is sent to ${service} can be read on the way: it is not encrypted.`,
    remedy:
      'Use an address that begins with https. Where the way itself is safe, such as in a tunnel, add --allow-http.',
  }),
  'no-url': ({ given }: { given: string }) => ({
    detail: `\`${given}\` is no address of a service.`,
    remedy: 'Write it such as https://fence.fennelhill.example.',
  }),
  'no-such-entry': ({ list, entry }: { list: string; entry: string }) => ({
    detail: `List \`${list}\` has no entry \`${entry}\`.`,
    remedy: `See them with \`jade-fence entry list ${list}\`.`,
  }),
  'no-such-place': ({ policy, rules }: { policy: string; rules: number }) => ({
    detail: `Policy \`${policy}\` has ${rules} rules.`,
    remedy: `Give a place from 1 to ${rules}.`,
  }),
  'no-such-rule': ({ policy, rule }: { policy: string; rule: string }) => ({
    detail: `Policy \`${policy}\` has no rule \`${rule}\`.`,
    remedy: `See its rules with \`jade-fence policy show ${policy}\`.`,
  }),
  'no-profile': ({ name, names }: { name: string; names: string }) => ({
    detail: name === '' ? 'There is no current profile.' : `There is no profile \`${name}\`.`,
    remedy: names === '' ? 'Make one with `jade-fence login`.' : `There are: ${names}.`,
  }),
  'no-replay': ({ log }: { log: string | undefined }) => ({
    detail: log === undefined ? 'No replay has been run yet.' : `Log \`${log}\` has not been replayed yet.`,
    remedy: `Run one with \`jade-fence replay run ${log ?? 'LOG'}\`.`,
  }),
  'no-replays': ({ log }: { log: string | undefined }) => ({
    detail: `There are no two replays of ${log === undefined ? 'one log' : `log \`${log}\``} to compare.`,
    remedy: `Run one with \`jade-fence replay run ${log ?? 'LOG'}\`, edit and apply the workspace, and run another.`,
  }),
  'no-request': () => ({
    detail: 'No request given.',
    remedy: 'Give --client, --host or --url, or --request NUMBER for one of a replay.',
  }),
  'not-confirmed': ({ consequence }: { consequence: string }) => ({
    detail: `${consequence} Nothing was changed.`,
    remedy: 'Say `--yes` to do it without being asked.',
  }),
  'not-our-service': ({ status }: { status: number }) => ({
    detail: `What answers there is no Jade Fence service (status ${status}).`,
    remedy: 'See that --service or JADE_FENCE_URL names the service.',
  }),
  'not-pulled': ({ folder }: { folder: string }) => ({
    detail: `${folder} was not pulled, so that it is not known what its files were made from.`,
    remedy: 'Bring independent files with `jade-fence workspace apply`, or pull first.',
  }),
  'not-written': ({ to, message }: { to: string; message: string }) => ({
    detail: `\`${to}\` could not be written: ${message}.`,
    remedy: 'Choose another file.',
  }),
  'passwords-differ': () => ({
    detail: 'The two are not the same; nothing was changed.',
    remedy: 'Type the password twice.',
  }),
  'replay-cancelled': ({ id }: { id: number }) => ({ detail: `Replay ${id} was cancelled.`, remedy: 'Run it again.' }),
  'replay-failed': ({ id, failure }: { id: number; failure: string | null }) => ({
    detail: `Replay ${id} failed: ${failure ?? 'the service does not say why.'}`,
    remedy: 'Run it again.',
  }),
  'service-unreachable': ({ base, reason }: { base: string; reason: string | undefined }) => ({
    detail: `No service answers at ${base}${reason ? ` (${reason})` : ''}.`,
    remedy: 'Start it with `jade-fence service run`, or say where it is with --service URL or JADE_FENCE_URL.',
  }),
  'too-many-files': ({ path, most }: { path: string; most: number }) => ({
    detail: `${path} holds more than ${most} workspace files.`,
    remedy: 'Name the folder of the workspace itself.',
  }),
  unreadable: ({ path, why }: { path: string; why: string }) => ({ detail: `${path} ${why}.` }),
  usage: ({ detail }: { detail: string }) => ({ detail, remedy: 'Try --help.' }),
  'usage/sessions': () => ({ detail: 'No session given.', remedy: 'Name a session, or say --all.' }),
  'what-to-discard': () => ({
    detail: 'No object given to discard.',
    remedy: 'Name one object by its kind and name, or give --all.',
  }),
  'where-to': () => ({
    detail: 'No place given for the rule.',
    remedy: 'Give --above RULE, --below RULE or --to PLACE.',
  }),
  'which-form': () => ({ detail: 'The file’s name ends in .jsonl or .csv.', remedy: 'Name it so.' }),
  'which-object': ({ word }: { word: string }) => ({
    detail: `\`${word}\` is no object.`,
    remedy: 'Write its kind and its name, such as policy/visitor-web.',
  }),
};

export type MessageName = keyof typeof MESSAGES;
