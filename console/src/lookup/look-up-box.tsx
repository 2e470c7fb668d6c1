import { type FormEvent, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { isTyping } from '../frame/keys.js';
import { deedsIn } from './deeds.js';

/** One box for addresses, hosts, URLs, users, the names of what the workspace has, and pages and deeds. The key `/` leads to it. */
export function LookUpBox() {
  const [value, setValue] = useState('');
  const box = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const workspace = useWorkspace().data;
  const mayEdit = useMay('editor');
  useEffect(() => {
    const focus = (event: KeyboardEvent) => {
      if (event.key !== '/' || isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      box.current?.focus();
    };
    addEventListener('keydown', focus);
    return () => removeEventListener('keydown', focus);
  }, []);
  const names = workspace
    ? [
        ...workspace.policies.map(({ policy }) => ({ name: policy, to: `/policies/${policy}` })),
        ...workspace.lists.map(({ list }) => ({ name: list, to: `/library/list/${list}` })),
        ...workspace.objects.map(({ kind, name }) => ({ name, to: `/library/${kind}/${name}` })),
        ...deedsIn(workspace, mayEdit),
      ]
    : [];
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const text = value.trim();
    if (text === '') return;
    const named = names.find(({ name }) => name === text);
    navigate(named?.to ?? `/look-up?of=${encodeURIComponent(text)}`);
    setValue('');
    // So that the next `/` leads here again.
    box.current?.blur();
  };
  return (
    <search>
      <form onSubmit={submit}>
        <input
          ref={box}
          value={value}
          onChange={(event) => setValue(event.target.value)}
          aria-label="Look up an address, host, URL, user or name, or go to a page"
          placeholder="Look up …  /"
          list="known-names"
          className="w-52 rounded-sm border border-edge bg-paper px-2 py-1 font-mono"
        />
        <datalist id="known-names">
          {names.map(({ name, to }) => (
            <option key={to} value={name} />
          ))}
        </datalist>
      </form>
    </search>
  );
}
