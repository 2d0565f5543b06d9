import { formatMinutes } from '@katharos/core';
import { Button, Popover } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { api } from '../data/api.ts';
import { dropPicture } from '../data/pictures.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import type { Refused } from '../data/outbox/entries.ts';
import { dropRefused, sendAgain, sendOutbox, sendOver } from '../data/outbox/outbox.ts';
import { selectIsAway } from '../data/kept/state.ts';
import { selectApart, selectOwnPending, type OutboxState } from '../data/outbox/state.ts';
import { clockOffMs, nowMs } from '../ui/clock.ts';

/** Where what was recorded stands, in a few words. */
function sendWords({
  pending,
  refused,
  link,
  failing,
  lastSentAt,
  noRoom,
  device,
  away,
}: Pick<OutboxState, 'pending' | 'refused' | 'link' | 'failing' | 'lastSentAt' | 'noRoom' | 'device'> & {
  away: boolean;
}): string {
  if (refused.length > 0) return `${String(refused.length)} refused`;
  if (noRoom) return `${String(pending.length)} only in this page`;
  if (pending.length > 0) {
    const kept = `${String(pending.length)} kept here`;
    if (link === 'away' || away) return `server away, ${kept}`;
    return Object.keys(failing).length > 0 ? `server failed, ${kept}` : `sending ${String(pending.length)}`;
  }
  if (device === 'reading') return 'reading what waits';
  if (device === 'closed') return 'nothing kept here';
  if (away) return 'server away, all sent';
  return lastSentAt === null ? 'all sent' : `all sent ${dayjs(lastSentAt).format('HH:mm')}`;
}

/** Says whether what was recorded has reached the server, waits on this device, or was refused. */
export function SendState(): ReactElement {
  const { refused, unreadable, link, failing, lastSentAt, unkept, noRoom, device, stays } = useAppSelector(
    (s) => s.outbox,
  );
  const pending = useAppSelector(selectOwnPending);
  const apart = useAppSelector(selectApart);
  const dispatch = useAppDispatch();
  const away = useAppSelector(selectIsAway);
  const words = sendWords({ pending, refused, link, failing, lastSentAt, noRoom, device, away });
  const stumbles = Object.entries(failing);
  return (
    <Popover position="bottom-end" width={340}>
      <Popover.Target>
        <button
          type="button"
          className="strip-send"
          data-state={
            refused.length > 0 || noRoom
              ? 'refused'
              : link === 'away' || away || device === 'closed' || stumbles.length > 0
                ? 'away'
                : 'ok'
          }
        >
          <span role="status">{words}</span>
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        {pending.length > 0 && stumbles.map(([jobId, said]) => <Stumbled key={jobId} jobId={jobId} said={said} />)}
        {device === 'read' && refused.length === 0 && pending.length === 0 && (
          <p>Everything recorded here is on the server.</p>
        )}
        {device === 'closed' && (
          <p role="alert">
            This browser does not let what is typed be kept on the device, nor what was kept before be read: it may be
            private browsing, or a full disk. What is typed is sent at once; without signal it is only in this page.
          </p>
        )}
        {device !== 'closed' && <OnThisDevice />}
        <ClockOff />
        {apart.length > 0 && (
          <p>
            {apart.length} {apart.length === 1 ? 'entry' : 'entries'} made by somebody who is not signed in here{' '}
            {apart.length === 1 ? 'waits' : 'wait'} on this device, apart, until they are.
          </p>
        )}
        {unreadable > 0 && (
          <p>
            {unreadable} {unreadable === 1 ? 'entry' : 'entries'} on this device cannot be read by this page. Nothing of
            them is dropped; a newer page may read them.
          </p>
        )}
        {pending.length > 0 && (
          <>
            {noRoom ? (
              <p role="alert">
                This device has no room for what is typed, or does not allow it: {unkept.length}{' '}
                {unkept.length === 1 ? 'entry is' : 'entries are'} only in this page. Leave it open until they are sent,
                and make room.
              </p>
            ) : (
              <p>
                {pending.length} {pending.length === 1 ? 'entry waits' : 'entries wait'} on this device, of all its
                tabs, since {sinceWords(pending)}. They are sent by themselves, in order, and survive a reload.
                {stays === false &&
                  ' This browser does not promise to keep them if the device runs out of room: send them before you clear anything.'}
              </p>
            )}
            <Button
              size="xs"
              onClick={() => {
                void dispatch(sendOutbox());
              }}
            >
              Try now
            </Button>
          </>
        )}
        <PicturesWait />
        {refused.map((r) => (
          <RefusedRow key={r.entry.id} refused={r} />
        ))}
      </Popover.Dropdown>
    </Popover>
  );
}

/** A job the server stumbles on, by its name where this page has it. @param said by the server */
function Stumbled({ jobId, said }: { jobId: string; said: string }): ReactElement {
  const { data } = api.endpoints.getJob.useQueryState(jobId);
  return (
    <p role="alert">
      The server failed on what was recorded of <Link to={`/jobs/${jobId}`}>{data?.household.name ?? 'a job'}</Link>:{' '}
      {said} It stays here and is tried again by itself; what belongs to other jobs is sent meanwhile.
    </p>
  );
}

/** When the first of what waits was made. */
function sinceWords(pending: OutboxState['pending']): string {
  const first = dayjs(Math.min(...pending.map((e) => Date.parse(e.at))));
  return first.isSame(dayjs(nowMs()), 'day') ? first.format('HH:mm') : first.format('D MMM, HH:mm');
}

/** Says that this device's clock is not believed. */
function ClockOff(): ReactElement | null {
  const off = clockOffMs();
  if (off === 0) return null;
  const minutes = Math.abs(off) / 60000;
  return (
    <p role="alert">
      This device’s clock is {formatMinutes(minutes)} {off < 0 ? 'ahead of' : 'behind'} the server’s. What is written
      down here carries the server’s time.
    </p>
  );
}

/** What opens here without signal. */
function OnThisDevice(): ReactElement {
  const jobs = useAppSelector((s) => Object.keys(s.kept.jobs).length);
  const away = useAppSelector(selectIsAway);
  return (
    <p>
      {away && 'The server is away: the page is as this device kept it, with what you wrote since. '}
      {jobs === 0
        ? 'No job is on this device for work without signal yet: the ones you open, those with a visit today or tomorrow, and those you take along will be.'
        : `${String(jobs)} ${jobs === 1 ? 'job opens' : 'jobs open'} here without signal: those opened lately, with a visit today or tomorrow, or taken along.`}
    </p>
  );
}

/** Pictures that have yet to reach the server, or were refused by it. */
function PicturesWait(): ReactElement | null {
  const dispatch = useAppDispatch();
  const { waiting } = useAppSelector((s) => s.pictures);
  const left = waiting.filter((w) => w.refused === undefined).length;
  return (
    <>
      {left > 0 && (
        <p>
          {left} {left === 1 ? 'photograph waits' : 'photographs wait'} on this device and {left === 1 ? 'is' : 'are'}{' '}
          sent by {left === 1 ? 'itself' : 'themselves'}.
        </p>
      )}
      {waiting.flatMap((w) =>
        w.refused === undefined
          ? []
          : [
              <p key={w.id}>
                photograph: {w.refused}{' '}
                <Button
                  size="compact-xs"
                  variant="default"
                  onClick={() => {
                    void dispatch(dropPicture(w.id));
                  }}
                >
                  Drop it
                </Button>
              </p>,
            ],
      )}
    </>
  );
}

const WRITE_WORDS = {
  design: 'approval',
  'household-new': 'new household',
  household: 'edit of the household',
} as const;

/** What was refused, why, and what a person can decide about it. */
function RefusedRow({ refused: r }: { refused: Refused }): ReactElement {
  const dispatch = useAppDispatch();
  const { entry } = r;
  return (
    <p>
      {entry.write === 'fact' ? entry.body.kind : WRITE_WORDS[entry.write]}: {r.reason}{' '}
      {r.current && (
        <Button
          size="compact-xs"
          onClick={() => {
            void dispatch(sendOver(r));
          }}
        >
          Keep mine over theirs
        </Button>
      )}{' '}
      {!r.current && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => {
            void dispatch(sendAgain(r));
          }}
        >
          Send it again
        </Button>
      )}{' '}
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => {
          void dispatch(dropRefused(entry.id));
        }}
      >
        Drop it
      </Button>
    </p>
  );
}
