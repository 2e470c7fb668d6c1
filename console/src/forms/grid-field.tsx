import { useState } from 'react';
import { Button } from '../frame/button.js';
import { goByRows } from '../frame/by-rows.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { Gate } from '../marks/gate.js';
import {
  type AnswerGrid,
  answerByKey,
  type Expected,
  isAnswer,
  nextAnswer,
  writtenDestination,
} from './expected-answers.js';

interface GridFieldProps {
  readonly grid: AnswerGrid;
  /** The probes of the workspace. */
  readonly probes: readonly string[];
  /** Sets what is below a path of the check; undefined takes it out. */
  readonly onSet: (path: readonly [string, ...string[]], value: unknown) => void;
  /** Takes a destination out, with what is expected at it. */
  readonly onDropDestination: (name: string) => void;
}

/** The answers that a check expects: probes down, destinations across. A press on a cell goes to the next answer. */
export function GridField({ grid, probes, onSet, onDropDestination }: GridFieldProps) {
  const free = probes.filter((probe) => !grid.rows.some(([own]) => own === probe));
  return (
    <div className="space-y-2">
      <div data-wide className="relative overflow-x-auto">
        <table aria-label="Answers that are expected" className="text-left" onKeyDown={goByRows}>
          <thead>
            <tr>
              <td />
              {grid.destinations.map(([name, written]) => (
                <th key={name} scope="col" title={written} className="border-b border-line px-2 font-mono font-normal">
                  {name} <Drop label={`Take ${name} out`} onPress={() => onDropDestination(name)} />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {grid.rows.map(([probe, cells]) => (
              <tr key={probe} className="border-b border-line/60">
                <th scope="row" className="pr-3 font-mono font-normal">
                  {probe} <Drop label={`Take ${probe} out`} onPress={() => onSet(['expect', probe], undefined)} />
                </th>
                {grid.destinations.map(([name]) => (
                  <td key={name} className="px-1 py-0.5">
                    <Cell
                      label={`${probe} at ${name}`}
                      expected={cells.get(name) ?? NOTHING}
                      onChange={(verdict) => onSet(['expect', probe, name], verdict === '' ? undefined : verdict)}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="flex flex-wrap items-end gap-4">
        <Choice
          label="Add a probe"
          value=""
          empty={free.length === 0 ? 'all are there' : 'choose'}
          options={free.map((probe) => ({ value: probe, label: probe }))}
          onChange={(probe) => onSet(['expect', probe], {})}
        />
        <NewDestination onAdd={(name, written) => onSet(['destinations', name], written)} />
      </div>
    </div>
  );
}

const NOTHING: Expected = { verdict: '', rule: undefined };

interface CellProps {
  readonly label: string;
  readonly expected: Expected;
  readonly onChange: (verdict: string) => void;
}

function Cell({ label, expected: { verdict, rule }, onChange }: CellProps) {
  return (
    <button
      type="button"
      title="Press for the next answer, with Shift for the one before; or type its first letter"
      className="w-full min-w-24 whitespace-nowrap cursor-pointer rounded-sm border border-edge bg-sheet px-2 py-0.5 text-left hover:border-iris"
      onClick={(event) => onChange(nextAnswer(verdict, event.shiftKey ? -1 : 1))}
      onKeyDown={(event) => {
        if (event.ctrlKey || event.metaKey || event.altKey) return;
        const next = answerByKey(verdict, event.key);
        if (next === undefined) return;
        event.preventDefault();
        onChange(next);
      }}
    >
      <span className="sr-only">{label}: </span>
      {verdict === '' && (
        <>
          <span className="sr-only">nothing expected</span>
          <span aria-hidden="true" className="text-soft">
            ·
          </span>
        </>
      )}
      {verdict !== '' && (isAnswer(verdict) ? <Gate verdict={verdict} /> : verdict)}
      {rule && <span className="ml-1 text-soft">by {rule}</span>}
    </button>
  );
}

function Drop({ label, onPress }: { readonly label: string; readonly onPress: () => void }) {
  return (
    <button type="button" aria-label={label} className="size-6 text-soft hover:text-ink" onClick={onPress}>
      ×
    </button>
  );
}

function NewDestination({ onAdd }: { readonly onAdd: (name: string, written: unknown) => void }) {
  const [name, setName] = useState('');
  const [typed, setTyped] = useState('');
  const add = () => {
    onAdd(name.trim(), writtenDestination(typed));
    setName('');
    setTyped('');
  };
  return (
    <span className="flex flex-wrap items-end gap-2">
      <TextField label="Destination, by a name of yours" placeholder="tickets" value={name} onChange={setName} />
      <TextField
        label="URL, or host:port of a tunnel"
        placeholder="https://tickets.fennelhill.example/"
        value={typed}
        onChange={setTyped}
      />
      <Button disabled={name.trim() === '' || typed.trim() === ''} onClick={add}>
        Add the destination
      </Button>
    </span>
  );
}
