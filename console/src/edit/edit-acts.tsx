import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';

interface EditActsProps {
  /** What is edited: a policy, or one of its rules. */
  readonly of: 'policy' | 'rule';
  readonly mayKeep: boolean;
  readonly onKeep: () => void;
  /** Whether something was written that is lost otherwise. */
  readonly isWritten: boolean;
  readonly onClose: () => void;
}

/** What ends an edit: it is kept, or given up, which asks where something was written. */
export function EditActs({ of, mayKeep, onKeep, isWritten, onClose }: EditActsProps) {
  return (
    <span className="ml-auto flex gap-2">
      <Button main disabled={!mayKeep} onClick={onKeep}>
        Keep in the draft
      </Button>
      {isWritten ? (
        <AskButton
          consequence={`What you wrote of this ${of} is lost. The ${of} stays as it is in the draft.`}
          does="Drop what I wrote"
          onConfirm={onClose}
        >
          Cancel
        </AskButton>
      ) : (
        <Button onClick={onClose}>Cancel</Button>
      )}
    </span>
  );
}
