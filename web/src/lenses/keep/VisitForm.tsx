import { changeSheet, formatMinutes, formatNumber, openChange, partIn, scheduleOf, type Life } from '@katharos/core';
import { Button, Checkbox, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { dayProblem, dayOf } from '../../job/visitDay.ts';
import { GrowingText } from '../../ui/GrowingText.tsx';

/** Why a visit is made where nobody said otherwise. */
export const reasonFor = (labels: readonly string[]): string =>
  labels.length === 0 ? 'Sanitising' : `Change of ${labels.join(', ')}`.slice(0, 200);

/** A visit: begun now with its run sheet, planned for a day, or written down afterwards. */
export function VisitForm({ lives, now }: { readonly lives: readonly Life[]; readonly now: number }): ReactElement {
  const { add, id, record, approved, built, designs } = useJob();
  const today = dayjs(now).format('YYYY-MM-DD');
  const [reason, setReason] = useDraft(`${id}.visit.reason`);
  const [note, setNote] = useDraft(`${id}.visit.note`);
  const [changed, setChanged] = useState<string[]>([]);
  const [sanitise, setSanitise] = useState(false);
  const [on, setOn] = useState('');
  const day = on === '' ? today : on;
  const labels = lives.filter((l) => changed.includes(l.componentId)).map((l) => l.label);
  const works = changed.length > 0 || sanitise;
  const why = reason.trim() !== '' ? reason.trim() : works ? reasonFor(labels) : '';
  const began = Math.min(...lives.map((l) => l.sinceMs), ...designs.slice(0, 1).map((d) => Date.parse(d.at)));
  const problem = dayProblem(day, today, lives.length > 0 ? began : null);
  const later = day > today;
  const clear = (): void => {
    setReason('');
    setNote('');
    setChanged([]);
    setSanitise(false);
    setOn('');
  };
  const save = (): void => {
    const dated = day === today ? {} : { on: dayOf(day) };
    // what is to come has changed nothing yet
    const what = later ? { changed: [], toChange: changed } : { changed };
    add({ kind: 'visit', reason: why, ...what, ...dated, ...(note.trim() ? { note: note.trim() } : {}) });
    clear();
    notifications.show({
      message: `Visit of ${dayjs(day).format('D MMMM')} is ${later ? 'planned: Rounds have it' : 'in the log'}.`,
    });
  };
  const begin = useBegin();
  return (
    <form
      className="no-print"
      onSubmit={(e) => {
        e.preventDefault();
        if (why !== '' && problem === null) save();
      }}
    >
      <h2 className="zone-title">A visit: begin it, plan it, or log it</h2>
      {lives.length > 0 && (
        <Checkbox.Group label="Changed" description="Or to be changed" value={changed} onChange={setChanged}>
          <div className="changed">
            {lives.map((l) => (
              <Checkbox key={l.componentId} value={l.componentId} label={l.label} />
            ))}
          </div>
        </Checkbox.Group>
      )}
      {lives.length > 0 && (
        <Checkbox
          mt={6}
          label="Sanitise it too"
          checked={sanitise}
          onChange={(e) => {
            setSanitise(e.currentTarget.checked);
          }}
        />
      )}
      {works && approved && built && day === today && !openChange(record) && (
        <Begin
          toChange={{ components: changed, sanitise }}
          onBegin={() => {
            begin({ components: changed, sanitise }, why);
            clear();
          }}
        />
      )}
      {changed.length > 0 && (
        <ChangeHints kinds={lives.flatMap((l) => (changed.includes(l.componentId) ? [l.kind] : []))} />
      )}
      <TextInput
        label="Why"
        placeholder={works ? reasonFor(labels) : 'Half-year change'}
        size="sm"
        mt="xs"
        value={reason}
        maxLength={200}
        onChange={(e) => {
          setReason(e.currentTarget.value);
        }}
      />
      <TextInput
        type="date"
        label="Day of it"
        description="Today, a day past, or one to come"
        size="sm"
        mt="xs"
        error={problem}
        value={day}
        onChange={(e) => {
          setOn(e.currentTarget.value);
        }}
      />
      <GrowingText
        label="What was found and done"
        size="sm"
        minRows={2}
        mt="xs"
        value={note}
        maxLength={2000}
        onChange={(e) => {
          setNote(e.currentTarget.value);
        }}
      />
      <Button type="submit" mt="sm" variant={works && !later ? 'default' : 'filled'} disabled={why === '' || problem !== null}>
        {later ? 'Plan this visit' : 'Log this visit'}
      </Button>
    </form>
  );
} // oxfmt-ignore

/** Begins a change: its run sheet is made and kept with it. */
export function useBegin(): (
  toChange: { readonly components: readonly string[]; readonly sanitise: boolean },
  reason: string,
  planned?: string,
) => void {
  const { add, view, approved, built } = useJob();
  return (toChange, reason, planned) => {
    if (!view || !approved || !built) return;
    // the sheet is called by a name of its own: the fact that holds it has its id only once it is written
    const sheet = changeSheet(crypto.randomUUID(), toChange, built.system, approved.judged.rules, view.today);
    add({
      kind: 'change',
      design: approved.id,
      reason,
      components: [...toChange.components],
      sheet,
      ...(planned === undefined ? {} : { planned }),
    });
  };
}

/** What a change begun now would be: its steps, its hands and its waits. */
function Begin({
  toChange,
  onBegin,
}: {
  readonly toChange: { readonly components: readonly string[]; readonly sanitise: boolean };
  readonly onBegin: () => void;
}): ReactElement | null {
  const { view, approved, built, record } = useJob();
  if (!view || !approved || !built) return null;
  const sheet = changeSheet('plan', toChange, built.system, approved.judged.rules, view.today);
  const minutes = scheduleOf(sheet, record, 0).doneAtMs / 60000;
  return (
    <div className="begin">
      <Button size="md" onClick={onBegin}>
        Begin it now
      </Button>
      <span className="small">
        {String(sheet.length)} steps with their clocks, about {formatMinutes(minutes)}.
      </span>
    </div>
  );
}

/** How a change is made, in a sentence: with the tank's valve where there is one, the carbon flushed as the firm does. */
function ChangeHints({ kinds }: { readonly kinds: readonly string[] }): ReactElement {
  const { rules, view } = useJob();
  const tank = view !== null && partIn(view.system, 'tank') !== undefined;
  const flush = kinds.includes('carbon')
    ? `flush the carbon for ${formatNumber(rules.changeFlushMinutes, 2)} minutes at the least, until it runs clear`
    : 'flush until it runs clear';
  return (
    <p className="small">
      Feed off and seen to die, {tank && 'tank valve shut, '}pressure released. O-rings looked at and greased.{' '}
      {tank ? `Tank still shut, ${flush}, look for leaks, tank open.` : `Then ${flush}, look for leaks.`}
    </p>
  );
}
