import type { Day, Shelf } from '@katharos/contract';
import { betweenKey, WORKING_DAY, type DayTable } from '@katharos/core';
import { Button, Checkbox, NumberInput, TagsInput, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactElement } from 'react';
import { usePutDayTableMutation } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { selectMay } from '../../data/session.ts';
import { useAppSelector } from '../../data/store.ts';
import { clock } from './dayOf.ts';

const minuteIn = (text: string): number | null => {
  const m = /^(\d{1,2}):(\d{2})$/.exec(text);
  return m ? Number(m[1]) * 60 + Number(m[2]) : null;
};
/** Ways and people not in the table yet are added to what is edited. */
function pairsOf(districts: readonly string[], table: DayTable): string[] {
  const all = [...new Set([...districts, ...table.districts, ...table.fitters.map((f) => f.district)])].filter((d) => d !== '').sort((a, b) => a.localeCompare(b)); // oxfmt-ignore
  const here = all.flatMap((a, i) => all.slice(i + 1).map((b) => betweenKey(a, b)));
  return [...new Set([...here, ...Object.keys(table.minutes)])];
}

/** What days are planned by: the minutes between districts, and who drives out from where and when. */
export function DayTableForm({
  day,
  districts,
  people,
}: {
  readonly day: Day;
  readonly districts: readonly string[];
  readonly people: Shelf['people'];
}): ReactElement {
  const mayWrite = useAppSelector((s) => selectMay(s, 'PUT /day/table'));
  const [put, { error, isLoading }] = usePutDayTableMutation();
  const [edited, setEdited] = useState<DayTable | null>(null);
  const table = edited ?? day.table;
  const set = (change: Partial<DayTable>): void => {
    setEdited({ ...table, ...change });
  };
  const setFitter = (person: string, change: Partial<DayTable['fitters'][number]> | null): void => {
    const others = table.fitters.filter((f) => f.person !== person);
    const mine = table.fitters.find((f) => f.person === person) ?? { person, district: districts[0] ?? '', ...WORKING_DAY };
    set({ fitters: change === null ? others : people.flatMap((p) => (p.id === person ? [{ ...mine, ...change }] : others.filter((f) => f.person === p.id))) });
  };
  const save = async (): Promise<void> => {
    try {
      await put({ table, version: day.version }).unwrap();
      setEdited(null);
      notifications.show({ message: 'Days are planned by this from now on.' });
    } catch {
      // shown at its place
    }
  };
  return (
    <details className="day-table no-print" open={day.version === null && districts.length > 0}>
      <summary>What days are planned by: minutes between districts, who drives</summary>
      <fieldset className="as-it-may" disabled={!mayWrite}>
        <TagsInput
          size="sm"
          label="Your districts"
          description="As they stand in a household’s place: the longest that does is its district"
          value={table.districts}
          onChange={(d) => {
            set({ districts: d.map((x) => x.trim()).filter((x) => x !== '') });
          }}
        />
        <div className="day-ways">
          {pairsOf(districts, table).map((k) => (
            <NumberInput
              key={k}
              size="xs"
              label={k.replace(' | ', ' and ')}
              suffix=" min"
              min={0}
              max={600}
              allowDecimal={false}
              placeholder={`${String(table.elseMin)} min taken`}
              value={table.minutes[k] ?? ''}
              onChange={(v) => {
                const others = Object.entries(table.minutes).filter(([way]) => way !== k);
                set({ minutes: Object.fromEntries(typeof v === 'number' ? [...others, [k, v]] : others) });
              }}
            />
          ))}
          <NumberInput size="xs" label="Within a district" suffix=" min" min={0} max={120} allowDecimal={false} value={table.withinMin} onChange={(v) => { if (typeof v === 'number') set({ withinMin: v }); }} />
          <NumberInput size="xs" label="Where the table has none" suffix=" min" min={0} max={600} allowDecimal={false} value={table.elseMin} onChange={(v) => { if (typeof v === 'number') set({ elseMin: v }); }} />
        </div>
        {people.map((p) => {
          const f = table.fitters.find((x) => x.person === p.id);
          return (
            <div key={p.id} className="day-fitter">
              <Checkbox label={`${p.name} drives out`} checked={f !== undefined} onChange={(e) => { setFitter(p.id, e.currentTarget.checked ? {} : null); }} />
              {f && (
                <>
                  <TextInput size="xs" label="From" aria-label={`${p.name} begins in`} value={f.district} maxLength={120} onChange={(e) => { setFitter(p.id, { district: e.currentTarget.value }); }} />
                  {(['fromMin', 'untilMin'] as const).map((k) => (
                    <TextInput key={k} size="xs" type="time" label={k === 'fromMin' ? 'Begins' : 'Home by'} aria-label={`${p.name} ${k === 'fromMin' ? 'begins at' : 'is home by'}`} value={clock(f[k])} onChange={(e) => { const m = minuteIn(e.currentTarget.value); if (m !== null) setFitter(p.id, { [k]: m }); }} />
                  ))}
                </>
              )}
            </div>
          );
        })}
        {error !== undefined && <p role="alert">{errorWords(error)}</p>}
        <Button size="sm" mt="sm" loading={isLoading} disabled={!edited || table.fitters.some((f) => f.fromMin >= f.untilMin)} onClick={() => void save()}>
          Plan days by this
        </Button>
      </fieldset>
    </details>
  );
} // oxfmt-ignore
