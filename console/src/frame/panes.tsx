import { type ReactNode, useSyncExternalStore } from 'react';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import { remembered } from '../marks/remembered.js';

interface PanesProps {
  /** What the browser remembers their widths by. */
  readonly id: string;
  readonly label: string;
  readonly left: ReactNode;
  readonly right: ReactNode;
}

const WIDE = '(min-width: 64rem)';

/** Two panes beside each other, whose border can be moved by the pointer and the arrow keys; on a small screen one is below the other. */
export function Panes({ id, label, left, right }: PanesProps) {
  const isWide = useSyncExternalStore(
    (changed) => {
      const media = matchMedia(WIDE);
      media.addEventListener('change', changed);
      return () => media.removeEventListener('change', changed);
    },
    () => matchMedia(WIDE).matches,
  );
  const layout = useDefaultLayout({ id: `jade-fence-${id}`, storage: remembered, panelIds: ['left', 'right'] });
  if (!isWide)
    return (
      <div className="grid min-h-0 flex-1 grid-cols-1 grid-rows-[70vh_minmax(70vh,auto)] overflow-y-auto">
        {left}
        {right}
      </div>
    );
  return (
    <Group className="min-h-0 flex-1" {...layout}>
      <Panel id="left" defaultSize="45.5" minSize="22rem" className="flex min-h-0 flex-col">
        {left}
      </Panel>
      <Separator
        aria-label={label}
        className="w-px bg-line outline-offset-2 data-[separator=active]:bg-iris data-[separator=hover]:bg-iris"
      />
      <Panel id="right" minSize="24rem" className="flex min-h-0 flex-col">
        {right}
      </Panel>
    </Group>
  );
}
