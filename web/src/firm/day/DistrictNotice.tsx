import type { RoundsEntry } from '@katharos/contract';
import { FACT_VERSION, FactSchema, happeningRow, type Happening } from '@katharos/core';
import { Button, Checkbox, CopyButton, SegmentedControl, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactElement } from 'react';
import { useLazyGetRoundsPageQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { recordFacts } from '../../data/outbox/outbox.ts';
import { selectMay } from '../../data/session.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { Dial } from '../../ui/Dial.tsx';
import { nowMs } from '../../ui/clock.ts';
import { GrowingText } from '../../ui/GrowingText.tsx';

const EVENTS = ['boil-notice', 'notice-lifted', 'frost'] as const satisfies readonly Happening[];

/** Every house in keeping whose name, place or contact has the words. @param page asks for a page of the list */
async function everyHouse(page: (after: string) => Promise<{ entries: readonly RoundsEntry[]; next: string | null }>): Promise<RoundsEntry[]> {
  const all: RoundsEntry[] = [];
  for (let after: string | null = ''; after !== null; ) {
    const p: { entries: readonly RoundsEntry[]; next: string | null } = await page(after);
    all.push(...p.entries);
    after = p.next;
  }
  return all;
} // oxfmt-ignore

/** Something that holds for a whole district: written down at each of its houses at once, with what each household is told. */
export function DistrictNotice(): ReactElement | null {
  const dispatch = useAppDispatch();
  const me = useAppSelector((s) => s.session.personId);
  const mayWrite = useAppSelector((s) => selectMay(s, 'POST /jobs/:id/facts'));
  const [fetchPage, { isFetching }] = useLazyGetRoundsPageQuery();
  const [event, setEvent] = useState<(typeof EVENTS)[number]>('boil-notice');
  const [district, setDistrict] = useState('');
  const [words, setWords] = useState('');
  const [found, setFound] = useState<{ readonly of: string; readonly houses: readonly RoundsEntry[] } | null>(null);
  const [left, setLeft] = useState<readonly string[]>([]);
  const [fault, setFault] = useState<string | null>(null);
  if (!mayWrite) return null;
  const row = happeningRow(event);
  const told = row.told({}, null);
  const houses = (found?.houses ?? []).filter((h) => !left.includes(h.jobId));
  const look = async (): Promise<void> => {
    setFault(null);
    const find = district.trim();
    try {
      const all = await everyHouse((after) => fetchPage({ list: 'kept', find, after }).unwrap());
      setFound({ of: find, houses: all.filter((e) => e.summary.lives.length > 0) });
      setLeft([]);
    } catch (e) {
      setFault(errorWords(e));
    }
  };
  const write = (): void => {
    if (me === null) return;
    const at = new Date(nowMs()).toISOString();
    const facts = houses.map((h) => FactSchema.parse({ v: FACT_VERSION, id: crypto.randomUUID(), jobId: h.jobId, by: me, at, kind: 'happened', event, words: words.trim() }));
    void dispatch(recordFacts(facts));
    notifications.show({ message: `${row.label}: written down at ${String(facts.length)} ${facts.length === 1 ? 'house' : 'houses'}.` });
    setFound(null);
    setWords('');
  };
  return (
    <details className="notice no-print">
      <summary>A notice for a whole district: boil-water, lifted, frost</summary>
      <SegmentedControl
        aria-label="What holds there"
        value={event}
        data={EVENTS.map((e) => ({ value: e, label: happeningRow(e).label }))}
        onChange={(v) => { setEvent(EVENTS.find((e) => e === v) ?? 'boil-notice'); }}
      />
      <form
        className="notice-find"
        onSubmit={(e) => {
          e.preventDefault();
          void look();
        }}
      >
        <TextInput label="District, as it stands in the places" value={district} maxLength={80} onChange={(e) => { setDistrict(e.currentTarget.value); }} />
        <Button type="submit" variant="default" loading={isFetching} disabled={district.trim() === ''}>
          Find its houses
        </Button>
      </form>
      {fault !== null && <p role="alert" className="caution">{fault}</p>}
      {found && (
        <>
          <p>
            <b>
              {houses.length === 0
                ? `No house in keeping with “${found.of}”.`
                : `${String(houses.length)} ${houses.length === 1 ? 'house' : 'houses'} in keeping with “${found.of}”`}
            </b>
          </p>
          <ul className="notice-houses">
            {found.houses.map((h) => (
              <li key={h.jobId}>
                <Checkbox
                  label={`${h.household.name}, ${h.household.place}`}
                  checked={!left.includes(h.jobId)}
                  onChange={(e) => {
                    const on = e.currentTarget.checked;
                    setLeft((l) => (on ? l.filter((x) => x !== h.jobId) : [...l, h.jobId]));
                  }}
                />
                <Dial phone={h.household.phone} who={h.household.name} />
              </li>
            ))}
          </ul>
          <GrowingText label={row.words} size="sm" minRows={2} maxLength={600} value={words} onChange={(e) => { setWords(e.currentTarget.value); }} />
          <h3 className="zone-title">What each household is told</h3>
          <ul className="plain-list">
            {told.map((t) => (
              <li key={t}>{t}</li>
            ))}
          </ul>
          <div className="notice-find">
            <Button disabled={houses.length === 0} onClick={write}>
              Write it down at {String(houses.length)} {houses.length === 1 ? 'house' : 'houses'}
            </Button>
            <CopyButton value={told.join('\n')}>
              {({ copied, copy }) => (
                <Button variant="default" onClick={copy}>
                  {copied ? 'Copied' : 'Copy what they are told'}
                </Button>
              )}
            </CopyButton>
          </div>
        </>
      )}
    </details>
  );
} // oxfmt-ignore
