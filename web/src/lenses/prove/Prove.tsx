import {
  baseUnit,
  formatNumber,
  parseQuantity,
  plainReadings,
  PROOF_KEYS,
  proofField,
  type FactOf,
  type ProofKey,
  judgeProof,
  proofFieldsFor,
  proofMoment,
  proofSlips,
  tdsPerUSCm,
  type JudgedProof,
  type KeptVerdict,
  type ProofReadings,
  inSentence,
} from '@katharos/core';
import { Autocomplete, Button, Textarea } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconPrinter } from '@tabler/icons-react';
import dayjs from 'dayjs';
import { useMemo, useState, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { Sheet } from '../../ui/Sheet.tsx';
import { usePrinting } from '../../ui/usePrinting.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { TakeBack } from '../../job/TakeBack.tsx';
import { HouseholdSheet } from '../../job/HouseholdSheet.tsx';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { ProofField } from './ProofField.tsx';
import { CompareScale } from './CompareScale.tsx';
import { Faults, nextSteps, useDiagnosis } from './Faults.tsx';
import './prove.css';

const GRADE_WORD = { good: 'does what it should', watch: 'keep an eye on it', act: 'act' } as const;

/** Readings that may be written as a conductivity: the same pen reads both. */
const isTds = (k: ProofKey): boolean => k === 'feedTdsMgL' || k === 'productTdsMgL';

/** Does it do what it should: readings on the left, expected against read on the right. */
export default function Prove(): ReactElement {
  const job = useJob();
  const { view, built, record, id, add } = job;
  const [drafts, setDrafts] = useDrafts(`${id}.proof`);
  const [instrument, setInstrument] = useDraft(`${id}.proof.instrument`);
  const [note, setNote] = useDraft(`${id}.proof.note`);
  const [shown, setShown] = useState<string | null>(null);
  const printing = usePrinting();
  const asked = useMemo(() => (built ? proofFieldsFor(built.system) : []), [built]);
  const perUSCm = useMemo(() => tdsPerUSCm(record.known), [record.known]);
  const typed: ProofReadings = useMemo(() => {
    const out: ProofReadings = {};
    for (const f of asked) {
      const parsed = parseQuantity(drafts[f.key] ?? '', f.kind, f.unit, f, isTds(f.key) ? perUSCm : undefined);
      if (parsed.ok) out[f.key] = parsed.value;
    }
    return out;
  }, [drafts, asked, perUSCm]);
  if (!view || !built) return <NeedsDesign what="Prove" />;
  const slips = proofSlips(typed, built.system, view.site);
  const labelOf = (k: ProofKey): string => asked.find((f) => f.key === k)?.label ?? proofField(k).label;
  const keys = asked.map((f) => f.key);
  const anyTyped = keys.some((k) => (drafts[k] ?? '') !== '');
  const past = record.proofs.find((p) => p.id === shown) ?? (anyTyped ? undefined : record.proofs.at(-1));
  const readings: ProofReadings = past ? plainReadings(past.readings) : typed;
  const judge = (r: ProofReadings): JudgedProof =>
    judgeProof(r, built.system, view.site, built.version.judged.rules.meterError);
  const result: JudgedProof = past?.judged ? { ok: true, verdict: past.judged } : judge(readings);
  const bad = keys.filter((k) => (drafts[k] ?? '') !== '' && typed[k] === undefined);
  const save = (): void => {
    const r = judge(typed);
    if (!r.ok || bad.length > 0) return;
    const stored: FactOf<'proof'>['readings'] = {};
    for (const k of keys) {
      const value = typed[k];
      if (value !== undefined) stored[k] = { value, typed: (drafts[k] ?? '').trim() };
    }
    add({
      kind: 'proof',
      readings: stored,
      judged: r.verdict,
      ...(instrument ? { instrument } : {}),
      ...(note.trim() ? { note: note.trim() } : {}),
    });
    setDrafts({});
    setNote('');
    setShown(null);
    notifications.show({ message: 'Readings kept, with their verdict.' });
  };
  const missing = result.ok || past ? [] : result.missing;
  return (
    <>
      <HouseholdSheet view={view} />
      {printing && result.ok && (
        <Sheet firm={job.rules.firm} place={job.household.place} title={`Proof, ${job.household.name}`}>
          <p>
            {past
              ? `Read ${dayjs(past.at).format('D MMMM YYYY, HH:mm')}${past.instrument ? ` with ${past.instrument}` : ''}`
              : 'Read now, not kept yet'}
          </p>
          <VerdictSheet verdict={result.verdict} readings={readings} />
        </Sheet>
      )}
      <div className="two-zones screen-only">
        <form
          onSubmit={(e) => {
            e.preventDefault();
            save();
          }}
        >
          <h2 className="zone-title">Readings now</h2>
          <p className="small">{proofMoment(built.system)}</p>
          <Autocomplete
            label="Instruments"
            size="sm"
            value={instrument}
            onChange={setInstrument}
            data={[...new Set(record.proofs.flatMap((p) => p.instrument ?? []))]}
            maxLength={80}
          />
          <div className="proof-fields">
            {asked.map((f) => (
              <ProofField
                key={f.key}
                field={f}
                text={drafts[f.key] ?? ''}
                slip={slips[f.key]}
                perUSCm={isTds(f.key) ? perUSCm : undefined}
                onText={(t) => {
                  setShown(null);
                  setDrafts({ ...drafts, [f.key]: t });
                }}
              />
            ))}
          </div>
          <Textarea
            label="Note"
            size="sm"
            autosize
            minRows={1}
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
            <p className="small">Still to read: {missing.map((k) => inSentence(labelOf(k))).join(', ')}.</p>
          )}
          <Button
            variant="default"
            size="xs"
            mt="md"
            leftSection={<IconPrinter size={14} />}
            onClick={() => {
              window.print();
            }}
          >
            Hand over: a sheet for the household
          </Button>
          {record.proofs.length > 0 && (
            <>
              <h2 className="zone-title">Earlier proofs</h2>
              <ul className="earlier">
                {[...record.proofs].reverse().map((p) => (
                  <li key={p.id}>
                    <button
                      type="button"
                      className="earlier-proof"
                      aria-pressed={past?.id === p.id}
                      onClick={() => {
                        setShown(shown === p.id ? null : p.id);
                      }}
                    >
                      {dayjs(p.at).format('D MMM YYYY')}, {job.personName(p.by)}
                      <Summary fact={p} />
                    </button>
                    <TakeBack id={p.id} what={`the proof of ${dayjs(p.at).format('D MMM YYYY')}`} />
                  </li>
                ))}
              </ul>
            </>
          )}
        </form>
        <div aria-live="polite">
          {past && (
            <p className="small">
              Readings of {dayjs(past.at).format('D MMMM YYYY, HH:mm')}
              {past.instrument ? `, ${past.instrument}` : ''}
            </p>
          )}
          {result.ok ? (
            <VerdictSheet verdict={result.verdict} readings={readings} />
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
        </div>
      </div>
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
      {v.rejection === null ? '' : `, ${formatNumber(100 * v.rejection, 3)} % held back`}, flow{' '}
      {formatNumber(100 * v.flowAgainstNew, 2)} % of {v.rejection === null ? 'what it should be' : 'new'}
    </small>
  );
}

/** Drafts of all proof fields in one entry, so that a reload brings them back together. */
function useDrafts(key: string): [Partial<Record<ProofKey, string>>, (d: Partial<Record<ProofKey, string>>) => void] {
  const [text, setText] = useDraft(key);
  const value = useMemo(() => {
    try {
      const raw: unknown = JSON.parse(text || '{}');
      const out: Partial<Record<ProofKey, string>> = {};
      if (typeof raw === 'object' && raw !== null)
        for (const k of PROOF_KEYS) {
          const v: unknown = Reflect.get(raw, k);
          if (typeof v === 'string') out[k] = v;
        }
      return out;
    } catch {
      return {};
    }
  }, [text]);
  return [
    value,
    (d) => {
      setText(Object.values(d).some((v) => v !== '') ? JSON.stringify(d) : '');
    },
  ];
}

function VerdictSheet({ verdict: v, readings }: { verdict: KeptVerdict; readings: ProofReadings }): ReactElement {
  const told = useDiagnosis(readings);
  return (
    <>
      <p className="headline">
        <span className="grade" data-grade={v.grade}>
          {v.grade === 'good' ? 'Good.' : v.grade === 'watch' ? 'Watch.' : 'Act.'}
        </span>{' '}
        {v.sentence}
      </p>
      <SaltFigures verdict={v} />
      <div className="compares">
        {v.compared.map((c) => (
          <CompareScale key={c.key} compared={c} />
        ))}
      </div>
      {v.doubts.map((d) => (
        <p key={d} className="note">
          {d}
        </p>
      ))}
      <h2 className="zone-title">What it means</h2>
      <ul className="plain-list">
        {v.reasons.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
      <Faults told={told} />
      <h2 className="zone-title">What to do next</h2>
      <ul className="plain-list">
        {nextSteps(told, v.next).map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
      <p className="small">
        {v.rejection === null
          ? 'Expected: these filters, half way through their life, at the pressure gauged and the temperature read.'
          : `Expected: a new element of this rating at the read pressure, temperature and feed (${baseUnit('pressure')}, °C, mg/L). Rejection is judged as sodium chloride; hard water is usually held back better. Recovery over a whole fill is another, lower figure: see Size.`}
      </p>
    </>
  );
}

/** What of the salt and of the feed is told in one figure each; nothing of filters, which hold back none. */
function SaltFigures({ verdict: v }: { verdict: KeptVerdict }): ReactElement | null {
  const n = formatNumber;
  if (v.rejection === null || v.momentaryRecovery === null || v.passageAgainstNew === null) return null;
  return (
    <dl className="figures proof-figures">
      <div>
        <dt>rejection, product against feed</dt>
        <dd>{n(100 * v.rejection, 3)} %</dd>
      </div>
      <div>
        <dt>recovery at this moment</dt>
        <dd>{n(100 * v.momentaryRecovery, 2)} %</dd>
      </div>
      <div>
        <dt>waste ratio at this moment</dt>
        <dd>{v.wasteRatio === null ? 'no product' : `${n(v.wasteRatio, 2)} L to drain for each litre`}</dd>
      </div>
      <div>
        <dt>salt passage against new</dt>
        <dd>{n(v.passageAgainstNew, 2)} times</dd>
      </div>
    </dl>
  );
}
