import type { WorkspaceBody } from '@jade-fence/service/bodies';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { useSignOut } from '../api/queries.js';
import { Brand } from './brand.js';
import { Button } from './button.js';
import { Choice } from './choice.js';
import { useTheme } from './theme.js';

interface TopBarProps {
  readonly workspace: WorkspaceBody;
  readonly policy: string | undefined;
  /** What else the page puts into the bar. */
  readonly children?: ReactNode;
}

export function TopBar({ workspace, policy, children }: TopBarProps) {
  const navigate = useNavigate();
  const signOut = useSignOut();
  const [theme, setTheme] = useTheme();
  const policies = workspace.policies.map((each) => ({
    value: each.policy,
    label: each.policy,
    detail: each.note ?? '',
  }));
  return (
    <header className="flex flex-none flex-wrap items-center gap-x-5 gap-y-2 border-b border-line bg-sheet px-4 py-2">
      <Brand />
      <Choice
        label="Policy"
        value={policy ?? ''}
        options={policies}
        empty="none yet"
        onChange={(name) => navigate({ pathname: `/policies/${name}`, search: keptSearch() })}
      />
      {children}
      <span className="ml-auto flex gap-2">
        <Button onClick={() => setTheme(theme === 'dark' ? 'light' : 'dark')}>
          {theme === 'dark' ? 'Light' : 'Dark'}
        </Button>
        <Button onClick={() => signOut.mutate()}>Sign out</Button>
      </span>
    </header>
  );
}

/** Another policy is seen in the same replay, from its start. */
function keptSearch(): string {
  const replay = new URLSearchParams(location.search).get('replay');
  return replay === null ? '' : `?replay=${replay}`;
}
