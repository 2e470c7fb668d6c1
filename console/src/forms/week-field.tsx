import { type PointerEvent as Pressed, useEffect, useState } from 'react';
import { SettledInput } from '../frame/settled-input.js';
import { DAY_MINUTES, DAYS, drawnWeek, painted, readSpans, type Week, withDay, writtenSpans } from './week.js';
import { type Stroke, WeekRows } from './week-rows.js';

interface WeekFieldProps {
  readonly week: Week;
  readonly onChange: (week: Week) => void;
}

/** What one draws by, in minutes; what is typed may be of any minute. */
const STEP = 30;

interface Place {
  readonly day: number;
  readonly minute: number;
}

/** A week whose hours are drawn with the pointer, over one day or several, or typed. Drawing over hours takes them out. */
export function WeekField({ week, onChange }: WeekFieldProps) {
  const [begun, setBegun] = useState<Place & { readonly isOn: boolean }>();
  const [at, setAt] = useState<Place>();
  const stroke = begun && at ? strokeOf(begun, at) : undefined;
  useEffect(() => {
    if (!begun || !stroke) return;
    const move = (event: PointerEvent) => {
      const place = placeUnder(event);
      if (place) setAt(place);
    };
    const end = () => {
      setBegun(undefined);
      let next = week;
      for (let day = stroke.first; day <= stroke.last; day++) next = painted(next, day, stroke, stroke.isOn);
      onChange(next);
    };
    const cancel = () => setBegun(undefined);
    const leave = (event: KeyboardEvent) => event.key === 'Escape' && cancel();
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', end);
    window.addEventListener('pointercancel', cancel);
    window.addEventListener('keydown', leave);
    return () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', end);
      window.removeEventListener('pointercancel', cancel);
      window.removeEventListener('keydown', leave);
    };
  });
  const begin = (event: Pressed) => {
    const place = placeUnder(event);
    if (!place || event.button !== 0) return;
    event.preventDefault();
    const isTaken = (drawnWeek(week)[place.day] ?? []).some(
      ({ from, to }) => from <= place.minute && to > place.minute,
    );
    setBegun({ ...place, isOn: !isTaken });
    setAt(place);
  };
  return (
    <>
      <p className="text-soft">Draw the hours, over several days at once; drawing over them takes them out.</p>
      <WeekRows
        week={week}
        stroke={stroke}
        onPointerDown={begin}
        behind={(day) => (
          <SettledInput
            label={`Hours of ${DAYS[day]}`}
            value={writtenSpans(week[day] ?? []).join(' ')}
            placeholder="closed"
            title="09:00-12:00 14:00-18:00, open, closed"
            width="w-full"
            isValid={(typed) => readSpans(typed) !== undefined}
            onSettle={(typed) => onChange(withDay(week, day, readSpans(typed) ?? []))}
          />
        )}
      />
    </>
  );
}

function strokeOf(begun: Place & { readonly isOn: boolean }, at: Place): Stroke {
  return {
    first: Math.min(begun.day, at.day),
    last: Math.max(begun.day, at.day),
    from: Math.min(begun.minute, at.minute),
    to: Math.max(begun.minute, at.minute) + STEP,
    isOn: begun.isOn,
  };
}

/** The day and the half hour below the pointer; undefined beside the days. */
function placeUnder({ clientX, clientY }: { readonly clientX: number; readonly clientY: number }): Place | undefined {
  const tracks = [...document.querySelectorAll<HTMLElement>('[data-day]')];
  const track = tracks.find((each) => {
    const { top, bottom } = each.getBoundingClientRect();
    return clientY >= top && clientY < bottom;
  });
  if (!track) return undefined;
  const { left, width } = track.getBoundingClientRect();
  const part = Math.min(0.9999, Math.max(0, (clientX - left) / width));
  return { day: Number(track.dataset.day), minute: Math.floor((part * DAY_MINUTES) / STEP) * STEP };
}
