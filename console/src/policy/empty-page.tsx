import type { WorkspaceBody } from '@jade-fence/service/bodies';
import { Command, Message } from '../frame/message.js';
import { TopBar } from '../frame/top-bar.js';

/** A workspace without a policy. */
export function EmptyPage({ workspace }: { readonly workspace: WorkspaceBody }) {
  return (
    <div className="flex h-screen flex-col">
      <TopBar workspace={workspace} policy={undefined} />
      <main>
        <Message title="The workspace is empty">
          <p>Write a policy in a file, and bring its folder into the service:</p>
          <Command text="jade-fence apply demo/workspace" />
          <p>This page shows it as soon as it is there.</p>
        </Message>
      </main>
    </div>
  );
}
