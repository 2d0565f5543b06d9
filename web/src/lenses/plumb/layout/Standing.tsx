import { tubesOf, type Carried, type Pose, type Quarter } from '@katharos/core';
import { Button, SegmentedControl } from '@mantine/core';
import type { ReactElement } from 'react';
import { useJob } from '../../../job/useJob.ts';
import { QuantityField } from '../../../ui/QuantityField.tsx';
import { keptInside, type OnThePage } from '../../../job/layout/useLayout.ts';

const MEASURES = [
  ['xMm', 'from the left'],
  ['yMm', 'from the back'],
  ['zMm', 'above the floor'],
] as const;

/** A quarter further round. */
export const turned = (pose: Pose): Pose => ({ ...pose, turn: (((pose.turn ?? 0) + 90) % 360) as Quarter });

/** What stands selected, in figures: typed, turned, laid down, put elsewhere. */
export function Standing({
  layout,
  part,
  onTurn,
  onSelect,
  onJoints,
}: {
  readonly layout: OnThePage;
  readonly part: Carried;
  readonly onTurn: (id: string, change: (pose: Pose) => Pose) => void;
  readonly onSelect: (id: string) => void;
  /** goes to the joints of a part, and of what hangs on it */
  readonly onJoints: (id: string) => void;
}): ReactElement | null {
  const { id: jobId } = useJob();
  const { component } = part;
  const { id } = component;
  const pose = layout.stands[id];
  if (!pose) return null;
  const tubes = tubesOf(layout.system).filter((t) => t.from.id === id || t.to.id === id);
  const middle = pose;
  return (
    <section className="standing">
      <h2 className="zone-title">{component.part?.name ?? component.slot}</h2>
      {layout.parts.length > 1 && (
        <p className="standing-others">
          {layout.parts.map((c) => (
            <button
              key={c.component.id}
              type="button"
              className="plain"
              aria-pressed={c.component.id === id}
              onClick={() => {
                onSelect(c.component.id);
              }}
            >
              {c.component.slot}
            </button>
          ))}
        </p>
      )}
      <div className="standing-measures">
        {MEASURES.map(([axis, words]) => (
          <QuantityField
            key={`${axis}.${String(middle[axis])}`}
            draftKey={`${jobId}.stands.${id}.${axis}`}
            label={axis === 'zMm' ? words : `its middle ${words}`}
            kind="length"
            unit="mm"
            min={0}
            max={3000}
            current={String(Math.round(middle[axis]))}
            onTake={(v) => {
              if (v !== null) layout.put({ [id]: keptInside(part, { ...pose, [axis]: v }, layout.room) });
            }}
          />
        ))}
      </div>
      <div className="standing-acts">
        {part.mayLie && (
          <SegmentedControl
            size="xs"
            aria-label="How it stands"
            data={[
              { value: 'stands', label: 'upright' },
              { value: 'lies', label: 'on its side' },
            ]}
            value={pose.lies === true ? 'lies' : 'stands'}
            onChange={(v) => {
              onTurn(id, (p) => ({ ...p, lies: v === 'lies' }));
            }}
          />
        )}
        <Button
          size="xs"
          variant="default"
          onClick={() => {
            onTurn(id, turned);
          }}
        >
          Turn a quarter
        </Button>
        {layout.room.second && (
          <Button
            size="xs"
            variant="default"
            onClick={() => {
              onTurn(id, (p) => ({ ...p, space: p.space === 'second' ? 'cupboard' : 'second' }));
            }}
          >
            {pose.space === 'second' ? 'Back into the cupboard' : `Into ${layout.room.second.words}`}
          </Button>
        )}
      </div>
      {tubes.length > 0 && <p className="small">Tubes {tubes.map((t) => String(t.number)).join(', ')} begin or end at it.</p>}
      <button
        type="button"
        className="plain small"
        onClick={() => {
          onJoints(id);
        }}
      >
        Its joints
      </button>
    </section>
  );
} // oxfmt-ignore
