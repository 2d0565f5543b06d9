import type { DayFitter, DayPlan } from '@katharos/core';
import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactElement } from 'react';
import { clock, type DayHouse } from './dayOf.ts';

/** Where a stay stands: whose, and which in the order. */
interface Place {
  readonly fitter: string;
  readonly index: number;
}

/** A hand that moved less than this only pressed, px. */
const PRESSED_PX = 6;

/** Everybody's day on one scale: driving, stays, waits. A stay is dragged among them, or moved by the arrow keys. */
export function Timeline({
  plan,
  fitters,
  houses,
  name,
  onMove,
}: {
  readonly plan: DayPlan;
  readonly fitters: readonly DayFitter[];
  readonly houses: readonly DayHouse[];
  readonly name: (fitter: string) => string;
  readonly onMove: (from: Place, to: Place) => void;
}): ReactElement {
  const box = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<{ from: Place; x: number; y: number; dx: number; dy: number } | null>(null);
  const ends = Object.values(plan.stops).flatMap((s) => s.map((x) => x.endMin));
  const fromMin = 60 * Math.floor(Math.min(...fitters.map((f) => f.fromMin)) / 60);
  const untilMin = 60 * Math.ceil(Math.max(...fitters.map((f) => f.untilMin), ...ends) / 60);
  const at = (minute: number): string => `${String((100 * (minute - fromMin)) / (untilMin - fromMin))}%`;
  const hours = Array.from({ length: (untilMin - fromMin) / 60 + 1 }, (_, i) => fromMin + 60 * i);
  const drop = (e: PointerEvent): void => {
    if (!drag) return;
    setDrag(null);
    if (Math.hypot(drag.dx, drag.dy) < PRESSED_PX) return;
    const lane = [...(box.current?.querySelectorAll<HTMLElement>('[data-fitter]') ?? [])].find((el) => {
      const r = el.getBoundingClientRect();
      return e.clientY >= r.top && e.clientY <= r.bottom;
    });
    const fitter = lane?.dataset.fitter;
    if (!lane || fitter === undefined) return;
    const r = lane.getBoundingClientRect();
    const minute = fromMin + ((e.clientX - r.left) / r.width) * (untilMin - fromMin);
    const stops = plan.stops[fitter] ?? [];
    const before = stops.findIndex((s) => (s.startMin + s.endMin) / 2 > minute);
    onMove(drag.from, { fitter, index: before < 0 ? stops.length : before });
  };
  const key = (e: KeyboardEvent, place: Place): void => {
    const lane = fitters.findIndex((f) => f.id === place.fitter);
    const beside = fitters[lane + (e.key === 'ArrowDown' ? 1 : -1)];
    if (e.key === 'ArrowLeft') onMove(place, { ...place, index: place.index - 1 });
    else if (e.key === 'ArrowRight') onMove(place, { ...place, index: place.index + 2 });
    else if ((e.key === 'ArrowDown' || e.key === 'ArrowUp') && beside) onMove(place, { fitter: beside.id, index: place.index });
    else return;
    e.preventDefault();
  };
  return (
    <div className="timeline" ref={box}>
      <div className="timeline-hours" aria-hidden="true">
        {hours.map((h) => (
          <span key={h} style={{ left: at(h) }}>
            {clock(h)}
          </span>
        ))}
      </div>
      {fitters.map((f) => (
        <div key={f.id} className="timeline-row">
          <b className="timeline-who">{name(f.id)}</b>
          <div className="timeline-lane" data-fitter={f.id}>
            {(plan.stops[f.id] ?? []).map((s, index) => {
              const house = houses.find((h) => h.planned.id === s.visit);
              const wait = house?.planned.tasks[s.task]?.waitMin ?? 0;
              const mine = drag?.from.fitter === f.id && drag.from.index === index;
              const broken = plan.problems.some((p) => p.visit === s.visit);
              const place = { fitter: f.id, index };
              return (
                <div key={`${s.visit}${String(s.task)}`}>
                  {s.travelMin > 0 && (
                    <span className="timeline-travel" style={{ left: at(s.arriveMin - s.travelMin), width: `calc(${at(s.arriveMin)} - ${at(s.arriveMin - s.travelMin)})` }} />
                  )}
                  {wait > 0 && <span className="timeline-wait" style={{ left: at(s.endMin), width: `calc(${at(s.endMin + wait)} - ${at(s.endMin)})` }} />}
                  <button
                    type="button"
                    className="timeline-stay"
                    title={`${house?.name ?? ''}: ${house?.reason ?? ''}`}
                    data-broken={broken}
                    aria-label={`${house?.name ?? ''}, ${clock(s.startMin)} to ${clock(s.endMin)}, ${name(f.id)}. Arrow keys move it.`}
                    style={{
                      left: at(s.startMin),
                      width: `calc(${at(s.endMin)} - ${at(s.startMin)})`,
                      ...(mine ? { transform: `translate(${String(drag.dx)}px, ${String(drag.dy)}px)`, zIndex: 3 } : {}),
                    }}
                    onPointerDown={(e) => {
                      e.currentTarget.setPointerCapture(e.pointerId);
                      setDrag({ from: place, x: e.clientX, y: e.clientY, dx: 0, dy: 0 });
                    }}
                    onPointerMove={(e) => {
                      if (mine) setDrag({ ...drag, dx: e.clientX - drag.x, dy: e.clientY - drag.y });
                    }}
                    onPointerUp={drop}
                    onPointerCancel={() => {
                      setDrag(null);
                    }}
                    onKeyDown={(e) => {
                      key(e, place);
                    }}
                  >
                    {house?.name}
                  </button>
                </div>
              );
            })}
          </div>
        </div>
      ))}
      <p className="small">
        Hatched: on the road. Bar: at the house. Line: a clock runs, nobody waits for it. Drag a bar, or move it by the arrow keys.
      </p>
    </div>
  );
} // oxfmt-ignore
