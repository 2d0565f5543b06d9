import { ActionIcon, Loader, Menu, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { IconCheck, IconHelp, IconMenu, IconMoon, IconSun } from '../ui/icons.ts';
import { notifications } from '@mantine/notifications';
import { useEffect, useRef, useState, type ReactElement } from 'react';
import { Link, NavLink, Outlet, useLocation } from 'react-router';
import type { Signed } from '@katharos/contract';
import { HelpSheet } from './HelpSheet.tsx';
import { isTyping } from '../ui/isTyping.ts';
import { Locked, useLocked } from './Locked.tsx';
import { NewRelease } from './NewRelease.tsx';
import { SendState } from './SendState.tsx';
import { SignInDialog, SignInPage } from './SignIn.tsx';
import { SignOut } from './SignOut.tsx';
import { useEver } from '../ui/useEver.ts';
import { usePhone } from '../ui/usePhone.ts';
import { sendOutbox } from '../data/outbox/outbox.ts';
import { sendPictures } from '../data/pictures.ts';
import { useChanges } from '../data/useChanges.ts';
import { useTellWaits } from '../data/useTellWaits.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { personChosen, selectActing, selectMay } from '../data/session.ts';

/** What stands beside the jobs. */
const PLACES = [
  ['/', 'Rounds'],
  ['/shelf', 'Shelf'],
  ['/rules', 'House rules'],
  ['/instruments', 'Instruments'],
] as const;

/** Those of them that who acts may open. */
function usePlaces(): readonly (readonly [string, string])[] {
  const owns = useAppSelector((s) => selectMay(s, 'GET /people'));
  return owns ? [...PLACES, ['/people', 'People']] : PLACES;
}

/** The other of light and dark, by name, and the way there. */
function useOtherScheme(): { readonly name: string; readonly icon: ReactElement; readonly put: () => void } {
  const dark = useComputedColorScheme('light') === 'dark';
  const { setColorScheme } = useMantineColorScheme();
  return {
    name: dark ? 'Light page' : 'Dark page',
    icon: dark ? <IconSun size={18} /> : <IconMoon size={18} />,
    put: () => {
      setColorScheme(dark ? 'light' : 'dark');
    },
  };
}

interface PeopleProps {
  /** somebody else is to sign in here */
  readonly onAsk: () => void;
  /** who acts is to sign out */
  readonly onLeave: () => void;
}

/** Who may be working, as entries of a menu. */
function People({ onAsk, onLeave }: PeopleProps): ReactElement {
  const dispatch = useAppDispatch();
  const here = useAppSelector((s) => s.session.here);
  const personId = useAppSelector((s) => s.session.personId);
  return (
    <>
      {here.map((p) => (
        <Menu.Item
          key={p.id}
          rightSection={p.id === personId ? <IconCheck size={16} aria-label="works now" /> : undefined}
          onClick={() => {
            dispatch(personChosen(p.id));
          }}
        >
          {p.name}
        </Menu.Item>
      ))}
      <Menu.Item onClick={onAsk}>Somebody else signs in</Menu.Item>
      <Menu.Item onClick={onLeave}>Sign out, password, code</Menu.Item>
    </>
  );
}

/** On a phone, what the strip has no room for: the firm's pages, who works, light or dark, help. */
function PhoneMenu({ onHelp, ...who }: PeopleProps & { onHelp: () => void }): ReactElement {
  const other = useOtherScheme();
  const places = usePlaces();
  const { pathname } = useLocation();
  return (
    <Menu position="bottom-end" width={240}>
      <Menu.Target>
        <ActionIcon variant="subtle" size={44} aria-label="Pages, who works, help">
          <IconMenu size={22} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {places.map(([to, name]) => (
          <Menu.Item key={to} component={Link} to={to} aria-current={pathname === to ? 'page' : undefined}>
            {name}
          </Menu.Item>
        ))}
        <Menu.Divider />
        <Menu.Label>Working as</Menu.Label>
        <People {...who} />
        <Menu.Divider />
        <Menu.Item onClick={other.put}>{other.name}</Menu.Item>
        <Menu.Item onClick={onHelp}>Help and keys</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

/** Tells that somebody else acts from now on: chosen, or because who acted is let in no more. */
function useTellWhoActs(acting: Signed | undefined): void {
  const last = useRef(acting?.id);
  useEffect(() => {
    if (acting && last.current !== undefined && last.current !== acting.id)
      notifications.show({ message: `From now on this is written as ${acting.name}.` });
    last.current = acting?.id ?? last.current;
  }, [acting]);
}

/** What waited for somebody goes once they are signed in. */
function useSendWhenIn(): void {
  const dispatch = useAppDispatch();
  // not the session whole: what is tried is in it, and changes with each key
  const door = useAppSelector((s) => s.session.door);
  const names = useAppSelector((s) => s.session.here.map((p) => p.id).join());
  useEffect(() => {
    if (door !== 'in') return;
    void dispatch(sendOutbox());
    void dispatch(sendPictures());
  }, [dispatch, names, door]);
}

/** The slim strip on top, and the page under it. */
export function Shell(): ReactElement {
  const [help, setHelp] = useState(false);
  const [asking, setAsking] = useState(false);
  const [leaving, setLeaving] = useState(false);
  const door = useAppSelector((s) => s.session.door);
  const acting = useAppSelector(selectActing);
  useChanges();
  useTellWaits();
  useSendWhenIn();
  useTellWhoActs(acting);
  const { locked, onOpen } = useLocked();
  const everHelp = useEver(help);
  const other = useOtherScheme();
  const phone = usePhone();
  const places = usePlaces();
  const who: PeopleProps = {
    onAsk: () => {
      setAsking(true);
    },
    onLeave: () => {
      setLeaving(true);
    },
  };
  const openHelp = (): void => {
    setHelp(true);
  };
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (e.key === '?' && !isTyping(e)) setHelp(true);
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, []);
  if (door === 'asking') return <Loader m="md" aria-label="Asking who is signed in" />;
  if (door === 'out' || door === 'ended') return <SignInPage />;
  if (locked) return <Locked onOpen={onOpen} />;
  return (
    <>
      <header className="strip">
        <nav className="strip-nav" aria-label="The firm">
          {(phone ? places.slice(0, 1) : places).map(([to, name]) => (
            <NavLink key={to} to={to} end className="strip-home">
              {name}
            </NavLink>
          ))}
        </nav>
        <div id="strip-job" className="strip-job" />
        <NewRelease />
        <SendState />
        {phone ? (
          <PhoneMenu {...who} onHelp={openHelp} />
        ) : (
          <>
            <Menu position="bottom-end">
              <Menu.Target>
                <button
                  type="button"
                  className="strip-person"
                  aria-label={`Working as ${acting?.name ?? 'nobody'}; change`}
                >
                  {acting?.name ?? 'Who works?'}
                </button>
              </Menu.Target>
              <Menu.Dropdown>
                <People {...who} />
              </Menu.Dropdown>
            </Menu>
            <ActionIcon variant="subtle" size={34} aria-label={other.name} onClick={other.put}>
              {other.icon}
            </ActionIcon>
            <ActionIcon variant="subtle" size={34} aria-label="Help and keys" onClick={openHelp}>
              <IconHelp size={18} />
            </ActionIcon>
          </>
        )}
      </header>
      <Outlet />
      {everHelp && (
        <HelpSheet
          opened={help}
          onClose={() => {
            setHelp(false);
          }}
        />
      )}
      {door === 'lost' && <SignInDialog />}
      {asking && (
        <SignInDialog
          onClose={() => {
            setAsking(false);
          }}
        />
      )}
      {leaving && (
        <SignOut
          onClose={() => {
            setLeaving(false);
          }}
        />
      )}
    </>
  );
}
