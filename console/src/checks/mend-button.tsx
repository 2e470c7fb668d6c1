import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { editsOfText } from '../edit/edits-of-text.js';
import type { Mend } from '../edit/mend.js';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';

interface MendButtonProps {
  readonly policy: string;
  readonly mend: Mend;
}

/** Makes a mend in the draft of a policy, in its state when the button is pressed. */
export function MendButton({ policy, mend }: MendButtonProps) {
  const make = useDeed(async () => {
    const params = { kind: 'policy', name: policy };
    const { text, version } = await call('GET /objects/:kind/:name', { params });
    const next = (await editsOfText()).mended(text, mend);
    if (next === undefined) throw new Error('A rule that this speaks of is there no more. Run the checks again.');
    return call('PUT /objects/:kind/:name', { params, body: { text: next }, version });
  });
  return (
    <>
      <Button onClick={() => make.mutate(undefined)} disabled={make.isPending}>
        Do that
      </Button>
      {make.error && <ErrorMessage error={make.error} />}
    </>
  );
}
