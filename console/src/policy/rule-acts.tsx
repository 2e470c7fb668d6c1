import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';

interface RuleActsProps {
  readonly rule: string;
  readonly stance: string;
  readonly first: boolean;
  readonly last: boolean;
  readonly acts: RuleActions;
}

/** What can be done with one rule. */
export interface RuleActions {
  readonly edit: () => void;
  readonly copy: () => void;
  readonly move: (to: -1 | 1 | 'top' | 'end') => void;
  readonly setStance: (stance: string) => void;
  readonly remove: () => void;
}

/** What can be done with a rule, behind one button. */
export function RuleActs({ rule, stance, first, last, acts }: RuleActsProps) {
  const items: [string, () => void, boolean][] = [
    ['Edit …', acts.edit, true],
    ['Copy', acts.copy, true],
    ['Move up', () => acts.move(-1), !first],
    ['Move down', () => acts.move(1), !last],
    ['To the top', () => acts.move('top'), !first],
    ['To the end', () => acts.move('end'), !last],
    ...['enforce', 'observe', 'off']
      .filter((each) => each !== stance)
      .map((each): [string, () => void, boolean] => [STANCE_WORDS[each] ?? each, () => acts.setStance(each), true]),
    ['Delete', acts.remove, true],
  ];
  return (
    <Menu>
      <MenuButton
        aria-label={`What to do with ${rule}`}
        className="rounded-sm border border-transparent px-1.5 text-soft data-hover:border-line data-open:border-iris"
      >
        <span aria-hidden="true">⋯</span>
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-30 rounded-sm border border-line bg-sheet py-1 shadow-lg">
        {items.map(([label, act, possible]) => (
          <MenuItem key={label} disabled={!possible}>
            <button
              type="button"
              onClick={act}
              className="block w-full px-3 py-1 text-left data-disabled:opacity-40 data-focus:bg-chosen"
            >
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

/** What it means to give a rule a stance. */
export const STANCE_WORDS: Readonly<Record<string, string>> = {
  enforce: 'Let it act',
  observe: 'Only observe',
  off: 'Turn off',
};
