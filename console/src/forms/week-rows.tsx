import type { PointerEventHandler, ReactNode } from 'react';
import { DAY_MINUTES, DAYS, drawnWeek, type Span, type Week, writtenSpans } from './week.js';

/** Hours that are being drawn over some days. */
export interface Stroke extends Span {
  readonly first: number;
  readonly last: number;
  /** Whether they come into the week, or go out of it. */
  readonly isOn: boolean;
}

interface WeekRowsProps {
  readonly week: Week;
  readonly stroke?: Stroke | undefined;
  /** Of the track of a day, which its element names by `data-day`. */
  readonly onPointerDown?: PointerEventHandler;
  /** What is at the end of a day's row. Default: its hours. */
  readonly behind?: (day: number) => ReactNode;
}

const across = ({ from, to }: Span) => ({
  left: `${(from / DAY_MINUTES) * 100}%`,
  width: `${((to - from) / DAY_MINUTES) * 100}%`,
});

/** A week drawn: a row a day, with the hours that are in it. */
export function WeekRows({ week, stroke, onPointerDown, behind }: WeekRowsProps) {
  const drawn = drawnWeek(week);
  return (
    <figure className="my-3 max-w-2xl" aria-label="The week">
      <ol>
        {DAYS.map((day, at) => (
          <li key={day} className="flex flex-wrap items-center gap-x-2 sm:flex-nowrap">
            <span className="w-8 font-mono text-soft">{day}</span>
            <span
              data-day={at}
              onPointerDown={onPointerDown}
              className={`relative h-6 flex-1 border-b border-line bg-paper ${onPointerDown ? 'cursor-crosshair touch-none' : ''}`}
            >
              {/* Every sixth hour, so that one sees where one draws. */}
              {[25, 50, 75].map((left) => (
                <span key={left} className="absolute inset-y-0 border-l border-line/60" style={{ left: `${left}%` }} />
              ))}
              {drawn[at]?.map((span) => (
                <span key={span.from} className="absolute inset-y-0.5 bg-iris" style={across(span)} />
              ))}
              {stroke && at >= stroke.first && at <= stroke.last && (
                <span
                  className={`absolute inset-y-0.5 border-2 border-ink ${stroke.isOn ? 'bg-iris-wash' : 'bg-paper'}`}
                  style={across(stroke)}
                />
              )}
            </span>
            <span className="w-52 font-mono max-sm:ml-10 max-sm:mb-1">
              {behind ? behind(at) : writtenSpans(week[at] ?? []).join(' ') || 'closed'}
            </span>
          </li>
        ))}
      </ol>
      <figcaption className="ml-10 flex justify-between sm:w-[calc(100%-16rem)] text-soft">
        {['00', '06', '12', '18', '24'].map((hour) => (
          <span key={hour}>{hour}</span>
        ))}
      </figcaption>
    </figure>
  );
}
