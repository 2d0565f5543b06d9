import {
  formatNumber,
  inSentence,
  judgeProof,
  parseQuantity,
  plainReadings,
  proofField,
  proofFieldsFor,
  proofMoment,
  proofSlips,
  tdsPerUSCm,
  type AskedField,
  type FactOf,
  type JudgedProof,
  type ProofKey,
  type ProofReadings,
} from '@katharos/core';
import { Autocomplete, Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconPrinter } from '../../ui/icons.ts';
import dayjs from 'dayjs';
import { useMemo, useRef, useState, type KeyboardEvent, type ReactElement } from 'react';
import { HouseholdSheet } from '../../job/HouseholdSheet.tsx';
import { DrinkingLine } from '../../job/drinking/Drinking.tsx';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { TakeBack } from '../../job/TakeBack.tsx';
import { usePrintForThem } from '../../job/givenSheets.ts';
import { useJob } from '../../job/useJob.ts';
import { Sheet } from '../../ui/Sheet.tsx';
import { useDraft } from '../../ui/useDraft.ts';
import { usePrinting } from '../../ui/usePrinting.ts';
import { useDiagnosis } from './Faults.tsx';
import { expectedFor, metersFor, meterErrors, withMeter } from './meters.ts';
import { ProofField } from './ProofField.tsx';
import { Repair, SideBySide } from './SideBySide.tsx';
import { Tried } from './Tried.tsx';
import { useProofDraft, type ProofDraft } from './useProofDraft.ts';
import { VerdictSheet } from './Verdict.tsx';
import './prove.css';
import { GrowingText } from '../../ui/GrowingText.tsx';

const GRADE_WORD = { good: 'does what it should', watch: 'keep an eye on it', act: 'act' } as const;

/** Readings that may be written as a conductivity: the same pen reads both. */
const isTds = (k: ProofKey): boolean => k === 'feedTdsMgL' || k === 'productTdsMgL';
/** So many proofs stand side by side. */
const MOST_BESIDE = 8;

/** What was typed, read: figures of the fields that hold one. */
function readingsIn(texts: ProofDraft['texts'], asked: readonly AskedField[], perUSCm: number): ProofReadings {
  const out: ProofReadings = {};
  for (const f of asked) {
    const parsed = parseQuantity(texts[f.key] ?? '', f.kind, f.unit, f, isTds(f.key) ? perUSCm : undefined);
    if (parsed.ok) out[f.key] = parsed.value;
  }
  return out;
}

/** Does it do what it should: readings on the left, expected against read on the right. */
export default function Prove(): ReactElement {
  const job = useJob();
  const { view, built, record, id, add } = job;
  const [draft, setDraft] = useProofDraft(id);
  const [instrument, setInstrument] = useDraft(`${id}.proof.instrument`);
  const [note, setNote] = useDraft(`${id}.proof.note`);
  const [shown, setShown] = useState<string | null>(null);
  const printing = usePrinting();
  const print = usePrintForThem();
  const form = useRef<HTMLFormElement>(null);
  const asked = useMemo(() => (built ? proofFieldsFor(built.system) : []), [built]);
  const perUSCm = useMemo(() => tdsPerUSCm(record.known), [record.known]);
  const typed = useMemo(() => readingsIn(draft.texts, asked, perUSCm), [draft.texts, asked, perUSCm]);
  const keys = asked.map((f) => f.key);
  const anyTyped = keys.some((k) => (draft.texts[k] ?? '') !== '') || Object.keys(draft.checks).length > 0;
  const past = record.proofs.find((p) => p.id === shown) ?? (anyTyped ? undefined : record.proofs.at(-1));
  const readings = useMemo(() => (past ? plainReadings(past.readings) : typed), [past, typed]);
  // an instrument that is named brings its own error
  const usual = built?.version.judged.rules.meterError ?? 0;
  const inHand = past ? (past.instrument ?? '') : instrument;
  const errors = useMemo(
    () => meterErrors(job.instruments, inHand, readings, usual),
    [job.instruments, inHand, readings, usual],
  );
  const told = useDiagnosis(readings, errors);
  if (!view || !built) return <NeedsDesign what="Prove" />;
  const slips = proofSlips(typed, built.system, view.site);
  const judge = (r: ProofReadings, checks = draft.checks): JudgedProof =>
    judgeProof(r, built.system, view.site, errors.meterError, checks, errors.own);
  const result: JudgedProof = past?.judged ? { ok: true, verdict: past.judged } : judge(readings, past?.checks);
  const bad = keys.filter((k) => (draft.texts[k] ?? '') !== '' && typed[k] === undefined);
  const found = record.proofs.at(-1);
  const toMend = found?.judged && found.judged.grade !== 'good' ? found : undefined;
  const save = (): void => {
    const r = judge(typed);
    if (!r.ok || bad.length > 0) return;
    const done = draft.done.trim();
    add({
      kind: 'proof',
      readings: keptReadings(typed, draft.texts, keys),
      judged: r.verdict,
      ...(Object.keys(draft.checks).length > 0 ? { checks: draft.checks } : {}),
      ...(toMend && done ? { mended: { proof: toMend.id, done } } : {}),
      ...(instrument ? { instrument } : {}),
      ...(note.trim() ? { note: note.trim() } : {}),
    });
    setDraft({ texts: {}, checks: {}, done: '' });
    setNote('');
    setShown(null);
    notifications.show({ message: 'Readings kept, with their verdict.' });
  };
  const missing = result.ok || past ? [] : result.missing;
  const write = (key: ProofKey, text: string): void => {
    setShown(null);
    setDraft({ texts: { ...draft.texts, [key]: text } });
  };
  const field = (f: AskedField): ReactElement => (
    <ProofField
      key={f.key}
      field={f}
      text={draft.texts[f.key] ?? ''}
      slip={slips[f.key]}
      perUSCm={isTds(f.key) ? perUSCm : undefined}
      meters={metersFor(f.key, job.instruments, instrument)}
      near={expectedFor(f.key, view)}
      onText={(t) => {
        write(f.key, t);
      }}
      onTake={(t, meter) => {
        write(f.key, t);
        setInstrument(withMeter(instrument, meter).slice(0, 80));
      }}
    />
  );
  const read = (key: ProofKey): void => {
    const at = form.current?.querySelector<HTMLInputElement>(`[data-reading='${key}']`);
    at?.closest('details')?.setAttribute('open', '');
    at?.scrollIntoView({ block: 'center' });
    at?.focus();
  };
  const further = asked.filter((f) => !f.needed);
  return (
    <>
      <HouseholdSheet view={view} />
      {printing && result.ok && (
        <Sheet of={job.rules} place={job.household.place} title={`Proof, ${job.household.name}`}>
          <p>
            {past
              ? `Read ${dayjs(past.at).format('D MMMM YYYY, HH:mm')}${past.instrument ? ` with ${past.instrument}` : ''}`
              : 'Read now, not kept yet'}
          </p>
          <VerdictSheet verdict={result.verdict} told={told} />
          {past && <Repair after={past} proofs={record.proofs} />}
        </Sheet>
      )}
      <div className="two-zones">
        <form
          ref={form}
          onKeyDown={goOnWithEnter}
          onSubmit={(e) => {
            e.preventDefault();
            save();
          }}
        >
          <h2 className="zone-title">Readings now</h2>
          <p className="small">{proofMoment(built.system)}</p>
          {toMend && (
            <GrowingText
              label={`Done since ${dayjs(toMend.at).format('D MMMM YYYY')}, where something was mended`}
              description="It stands between the two proofs, before and after."
              size="sm"
              value={draft.done}
              maxLength={400}
              onChange={(e) => {
                setDraft({ done: e.currentTarget.value });
              }}
            />
          )}
          <Autocomplete
            label="Instruments"
            size="sm"
            value={instrument}
            onChange={setInstrument}
            data={[...new Set(record.proofs.flatMap((p) => p.instrument ?? []))]}
            maxLength={80}
          />
          <div className="proof-fields">{asked.filter((f) => f.needed).map(field)}</div>
          {further.length > 0 && (
            <details className="further" open={further.some((f) => (draft.texts[f.key] ?? '') !== '')}>
              <summary>Further readings, each of them telling causes apart</summary>
              <div className="proof-fields">{further.map(field)}</div>
            </details>
          )}
          <Tried
            system={built.system}
            checks={draft.checks}
            onTried={(checks) => {
              setShown(null);
              setDraft({ checks });
            }}
          />
          <GrowingText
            label="Note"
            size="sm"
            value={note}
            maxLength={2000}
            onChange={(e) => {
              setNote(e.currentTarget.value);
            }}
          />
          <div className="thumb-bar">
            <Button type="submit" size="md" disabled={missing.length > 0 || !anyTyped || bad.length > 0}>
              Keep these readings
            </Button>
          </div>
          {anyTyped && missing.length > 0 && (
            <p className="small">
              Still to read:{' '}
              {missing.map((k) => inSentence(asked.find((f) => f.key === k)?.label ?? proofField(k).label)).join(', ')}.
            </p>
          )}
          <Button variant="default" size="xs" mt="md" leftSection={<IconPrinter size={14} />} onClick={print}>
            Hand over: a sheet for the household
          </Button>
          <Earlier past={past} shown={shown} onShow={setShown} />
        </form>
        <div aria-live="polite">
          {/* what is typed and not kept is not judged yet */}
          {!anyTyped && <DrinkingLine />}
          {past && (
            <p className="small">
              Readings of {dayjs(past.at).format('D MMMM YYYY, HH:mm')}
              {past.instrument ? `, ${past.instrument}` : ''}
            </p>
          )}
          {past && <Repair after={past} proofs={record.proofs} />}
          {result.ok ? (
            <VerdictSheet verdict={result.verdict} told={told} onRead={past ? undefined : read} />
          ) : (
            <>
              <p className="headline">Read these, and the verdict stands here.</p>
              <ul className="plain-list">
                {asked
                  .filter((f) => result.missing.includes(f.key))
                  .map((f) => (
                    <li key={f.key}>
                      {f.label}: {f.how}
                    </li>
                  ))}
              </ul>
            </>
          )}
          {past && record.proofs.length > 1 && (
            <details className="all-proofs">
              <summary>All proofs side by side</summary>
              <SideBySide proofs={record.proofs.slice(-MOST_BESIDE)} />
            </details>
          )}
        </div>
      </div>
    </>
  );
}

/** Enter goes on to the next reading that is open, and from the last one to the button: readings are kept by that alone. */
function goOnWithEnter(e: KeyboardEvent<HTMLFormElement>): void {
  const at = e.target;
  if (e.key !== 'Enter' || !(at instanceof HTMLInputElement) || at.dataset.reading === undefined) return;
  e.preventDefault();
  const shown = [...e.currentTarget.querySelectorAll<HTMLInputElement>('input[data-reading]')].filter(
    (i) => i.closest('details:not([open])') === null,
  );
  const next = shown[shown.indexOf(at) + 1] ?? e.currentTarget.querySelector<HTMLElement>('button[type="submit"]');
  next?.focus();
}

/** Figures with what was typed for them, as they are kept. */
function keptReadings(typed: ProofReadings, texts: ProofDraft['texts'], keys: readonly ProofKey[]): FactOf<'proof'>['readings'] {
  return Object.fromEntries(
    keys.flatMap((k) => (typed[k] === undefined ? [] : [[k, { value: typed[k], typed: (texts[k] ?? '').trim() }]])),
  );
} // oxfmt-ignore

/** The day of a proof, with its hour where another was read on the same day. */
function proofDay(proof: FactOf<'proof'>, all: readonly FactOf<'proof'>[]): string {
  const alone = all.filter((p) => dayjs(p.at).isSame(dayjs(proof.at), 'day')).length < 2;
  return dayjs(proof.at).format(alone ? 'D MMM YYYY' : 'D MMM YYYY, HH:mm');
}

/** Proofs of before, each shown again by a click. */
function Earlier(p: {
  readonly past: FactOf<'proof'> | undefined;
  readonly shown: string | null;
  readonly onShow: (id: string | null) => void;
}): ReactElement | null {
  const { record, personName } = useJob();
  if (record.proofs.length === 0) return null;
  return (
    <>
      <h2 className="zone-title">Earlier proofs</h2>
      <ul className="earlier">
        {[...record.proofs].reverse().map((proof) => (
          <li key={proof.id}>
            <button
              type="button"
              className="earlier-proof"
              aria-pressed={p.past?.id === proof.id}
              onClick={() => {
                p.onShow(p.shown === proof.id ? null : proof.id);
              }}
            >
              {proofDay(proof, record.proofs)}, {personName(proof.by)}
              <Summary fact={proof} />
            </button>
            <TakeBack id={proof.id} what={`the proof of ${proofDay(proof, record.proofs)}`} />
          </li>
        ))}
      </ul>
    </>
  );
}

function Summary({ fact }: { fact: FactOf<'proof'> }): ReactElement {
  const v = fact.judged;
  if (!v) return <small>kept without a verdict</small>;
  return (
    <small>
      <span className="grade" data-grade={v.grade}>
        {GRADE_WORD[v.grade]}
      </span>
      {fact.mended ? ', after a repair' : ''}
      {v.rejection === null ? '' : `, ${formatNumber(100 * v.rejection, 3)} % held back`}, flow{' '}
      {formatNumber(100 * v.flowAgainstNew, 2)} % of {v.rejection === null ? 'what it should be' : 'new'}
    </small>
  );
}
