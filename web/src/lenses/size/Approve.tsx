import {
  designInWords,
  holdsApproval,
  proposalOf,
  sameProposal,
  type Decision,
  type Doubt,
  type Proposal,
} from '@katharos/core';
import { StoredVersionSchema } from '@katharos/contract';
import { Alert, Button, Checkbox, Modal } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactElement } from 'react';
import { problemOf } from '../../data/errors.ts';
import { approveVersion } from '../../data/outbox/outbox.ts';
import { selectMay } from '../../data/session.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { askWorker, houseKey } from '../../data/coreWorkers.ts';
import { useJob } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { nowMs } from '../../ui/clock.ts';
import { GrowingText } from '../../ui/GrowingText.tsx';

/** A decision beside which something may be put in: what it proposes, or, against it, something else. */
export type Proposing = Extract<Decision, { kind: 'recommendation' | 'other-way' | 'nothing-fits' }>;

/** What an approval of a proposal under a decision does: makes its version, sends it, and keeps the cautions told. */
function useApprove(decision: Proposing): {
  approve: (proposal: Proposal, reason: string) => Promise<boolean>;
  busy: boolean;
  problem: string | null;
} {
  const { id, approved, add, parts, rules, known, record, facts } = useJob();
  const personId = useAppSelector((s) => s.session.personId);
  const mayApprove = useAppSelector((s) => selectMay(s, 'POST /jobs/:id/designs'));
  const dispatch = useAppDispatch();
  const [making, setMaking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const approve = async (proposal: Proposal, reason: string): Promise<boolean> => {
    if (personId === null) return false;
    if (!mayApprove) {
      setProblem('You look here: a design is approved by who fits it.');
      return false;
    }
    setProblem(null);
    setMaking(true);
    try {
      const advised = proposalOf(decision);
      const against = sameProposal(proposal, advised) ? '' : decision.sentence;
      const who = { id: crypto.randomUUID(), at: new Date(nowMs()).toISOString(), by: personId };
      const version = await askWorker('version', [
        houseKey(parts, rules, record.placed),
        known,
        proposal,
        { ...who, reason, against, before: approved, facts },
      ]);
      const outcome = await dispatch(approveVersion(id, version));
      if (outcome.kind === 'refused') {
        setProblem(refusedWords(outcome));
        return false;
      }
      if (decision.safety.length > 0)
        add({
          kind: 'note',
          about: `approval ${String(version.number)}`,
          text: `Acknowledged before approval: ${decision.safety.map((s) => s.text).join(' ')}`.slice(0, 2000),
        });
      const kept =
        outcome.kind === 'waits' ? 'It is kept here and sent once the server answers.' : 'Plumb has the pick list.';
      notifications.show({ message: `Approved as version ${String(version.number)}. ${kept}` });
      return true;
    } catch (e) {
      setProblem(e instanceof Error ? e.message : 'It could not be worked out.');
      return false;
    } finally {
      setMaking(false);
    }
  };
  return { approve, busy: making, problem };
}

/** Why an approval was not taken: another one meanwhile, or what the server says. */
function refusedWords({ reason, data }: { reason: string; data: unknown }): string {
  const current = StoredVersionSchema.safeParse(problemOf({ data })?.current).data;
  return current
    ? `Version ${String(current.number)} was approved meanwhile. It is shown once this page has read it; look at it before you approve over it.`
    : reason;
}

/** Cautions that must be settled, and those that are read and told. */
function Cautions({
  held,
  toSee,
  seen,
  onSeen,
}: {
  held: readonly Doubt[];
  toSee: readonly Doubt[];
  seen: ReadonlySet<string>;
  onSeen: (seen: ReadonlySet<string>) => void;
}): ReactElement {
  return (
    <>
      {held.map((s) => (
        <p key={s.code} className="caution">
          {s.text}
        </p>
      ))}
      {toSee.map((s) => (
        <div key={s.code} className="caution">
          {s.text}
          <Checkbox
            size="xs"
            mt={4}
            label="Read and told to the household"
            checked={seen.has(s.code)}
            onChange={(e) => {
              const next = new Set(seen);
              if (e.currentTarget.checked) next.add(s.code);
              else next.delete(s.code);
              onSeen(next);
            }}
          />
        </div>
      ))}
    </>
  );
}

/** Cautions that must be settled or acknowledged first, and the button. */
export function Approve({
  proposal,
  decision,
  label,
  disabled,
}: {
  proposal: Proposal;
  decision: Proposing;
  label: string;
  disabled: boolean;
}): ReactElement {
  const { trial } = useJob();
  const { approve, busy, problem } = useApprove(decision);
  const [seen, setSeen] = useState<ReadonlySet<string>>(new Set());
  const held = decision.safety.filter(holdsApproval);
  const toSee = decision.safety.filter((s) => !holdsApproval(s));
  const unseen = toSee.filter((s) => !seen.has(s.code));
  return (
    <>
      <Cautions held={held} toSee={toSee} seen={seen} onSeen={setSeen} />
      <Button
        loading={busy}
        disabled={disabled || held.length > 0 || unseen.length > 0 || trial !== null}
        onClick={() => {
          void approve(proposal, '');
        }}
      >
        {label}
      </Button>
      {held.length > 0 && <span className="small">Held back until the caution above is settled in Gauge.</span>}
      {held.length === 0 && unseen.length > 0 && (
        <span className="small">Held back until each caution is read and told.</span>
      )}
      {trial !== null && (
        <span className="small">Go back to the readings first: nothing that is tried is approved.</span>
      )}
      {problem !== null && (
        <Alert color="red" role="alert">
          {problem}
        </Alert>
      )}
    </>
  );
}

/** Another proposal taken against the advice, with its reason for the record. */
export function TakeOther({
  proposal,
  decision,
  onClose,
}: {
  proposal: Proposal;
  decision: Proposing;
  onClose: () => void;
}): ReactElement {
  const { id, parts } = useJob();
  const [reason, setReason] = useDraft(`${id}.against`);
  const { approve, busy, problem } = useApprove(decision);
  const held = decision.safety.some(holdsApproval);
  return (
    <Modal opened onClose={onClose} title="Take this one against the advice">
      <p>{'design' in proposal ? designInWords(proposal.design, parts) : proposal.assembly.sentence}</p>
      {decision.safety.map((s) => (
        <p key={s.code} className="caution">
          {s.text}
        </p>
      ))}
      <GrowingText
        label="Why"
        description="Kept with the design."
        value={reason}
        minRows={2}
        maxLength={600}
        data-autofocus
        onChange={(e) => {
          setReason(e.currentTarget.value);
        }}
      />
      {problem !== null && (
        <Alert color="red" role="alert" mt="sm">
          {problem}
        </Alert>
      )}
      <Button
        mt="md"
        loading={busy}
        disabled={reason.trim() === '' || held}
        onClick={() => {
          void approve(proposal, reason.trim()).then((ok) => {
            if (ok) {
              setReason('');
              onClose();
            }
          });
        }}
      >
        Approve this one
      </Button>
    </Modal>
  );
}
