import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { count } from '../marks/count.js';

/** Looks whether anybody changed the audit: each entry has the hash of those before it. */
export function VerifyAudit() {
  const [head, setHead] = useState('');
  const verify = useDeed(() => call('GET /audit/verify', { query: { head: head.trim() || undefined } }));
  const found = verify.data;
  const isWhole = found && found.brokenAt === null && !found.isCut && found.hasHead !== false;
  return (
    <div className="mb-3">
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          verify.mutate(undefined);
        }}
      >
        <TextField label="A head that was kept elsewhere, if any" value={head} onChange={setHead} />
        <Button type="submit" disabled={verify.isPending}>
          {verify.isPending ? 'Verifying …' : 'Verify the chain'}
        </Button>
      </form>
      {verify.error && <ErrorMessage error={verify.error} />}
      {found && (
        <p
          role="status"
          className={`mt-1 border-l-2 px-2 py-0.5 ${isWhole ? 'border-iris bg-iris-wash' : 'border-plum bg-plum-wash'}`}
        >
          {isWhole && `All ${count(found.entries)} entries follow from those before them.`}
          {found.brokenAt !== null && `Entry ${count(found.brokenAt)} does not follow from the one before it. `}
          {found.isCut && 'Entries are missing at the end. '}
          {found.hasHead === false && 'The head that was kept is not among them. '}
          <span className="block">
            Keep this elsewhere, to prove later that the past is unchanged:{' '}
            <code className="font-mono break-all">{found.head}</code>
          </span>
        </p>
      )}
    </div>
  );
}
