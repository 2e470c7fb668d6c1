import { useState } from 'react';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { Part } from '../frame/page.js';
import { useTimeZone } from '../marks/clock.js';

/** The time zone that times are shown in, in this browser. Texts and filters stay in UTC, as logs and rules have them. */
export function OwnTimeZone() {
  const [zone, choose] = useTimeZone();
  const [typed, setTyped] = useState(zone);
  const [isRefused, setRefused] = useState(false);
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const take = (wanted: string) => {
    const isTaken = choose(wanted.trim());
    setRefused(!isTaken);
    if (isTaken) setTyped(wanted.trim());
  };
  return (
    <Part title="Your time zone">
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          take(typed);
        }}
      >
        <TextField label="Times are shown in" list="zones" required value={typed} onChange={setTyped} />
        <datalist id="zones">
          {Intl.supportedValuesOf('timeZone').map((each) => (
            <option key={each} value={each} />
          ))}
        </datalist>
        <Button type="submit">Show them so</Button>
        <Button onClick={() => take('UTC')}>UTC</Button>
        {here !== 'UTC' && <Button onClick={() => take(here)}>{here}, as here</Button>}
      </form>
      {isRefused && (
        <p role="alert" className="mt-1 border-l-2 border-ochre bg-ochre-wash px-2 py-0.5">
          There is no such time zone. Names are such as Europe/Lisbon.
        </p>
      )}
      <p className="mt-1 text-soft">This browser remembers it. Rules, logs and what you download stay in UTC.</p>
    </Part>
  );
}
