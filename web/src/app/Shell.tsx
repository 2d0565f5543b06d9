import { ActionIcon, Menu, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { IconCheck, IconHelp, IconMenu2, IconMoon, IconSun } from '@tabler/icons-react';
import { useEffect, useState, type ReactElement } from 'react';
import { Link, NavLink, Outlet, useLocation } from 'react-router';
import type { Person } from '@katharos/contract';
import { HelpSheet } from './HelpSheet.tsx';
import { isTyping } from '../ui/isTyping.ts';
import { PersonDialog } from './PersonDialog.tsx';
import { SendState } from './SendState.tsx';
import { useEver } from '../ui/useEver.ts';
import { usePhone } from '../ui/usePhone.ts';
import { useGetShelfQuery } from '../data/api.ts';
import { useChanges } from '../data/useChanges.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { personChosen } from '../data/session.ts';

/** What stands beside the jobs. */
const PLACES = [
  ['/', 'Rounds'],
  ['/shelf', 'Shelf'],
  ['/rules', 'House rules'],
  ['/instruments', 'Instruments'],
] as const;

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
  readonly people: readonly Person[];
  readonly personId: string | null;
  /** somebody new is to be added */
  readonly onAsk: () => void;
}

/** Who may be working, as entries of a menu. */
function People({ people, personId, onAsk }: PeopleProps): ReactElement {
  const dispatch = useAppDispatch();
  return (
    <>
      {people.map((p) => (
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
      <Menu.Item onClick={onAsk}>Add a person</Menu.Item>
    </>
  );
}

/** On a phone, what the strip has no room for: the firm's pages, who works, light or dark, help. */
function PhoneMenu({ onHelp, ...who }: PeopleProps & { onHelp: () => void }): ReactElement {
  const other = useOtherScheme();
  const { pathname } = useLocation();
  return (
    <Menu position="bottom-end" width={240}>
      <Menu.Target>
        <ActionIcon variant="subtle" size={44} aria-label="Pages, who works, help">
          <IconMenu2 size={22} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {PLACES.map(([to, name]) => (
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

/** The slim strip on top, and the page under it. */
export function Shell(): ReactElement {
  const [help, setHelp] = useState(false);
  const [asking, setAsking] = useState(false);
  const personId = useAppSelector((s) => s.session.personId);
  const shelf = useGetShelfQuery(null).data;
  useChanges();
  const person = shelf?.people.find((p) => p.id === personId);
  const asks = asking || (shelf !== undefined && !person);
  const everAsked = useEver(asks);
  const everHelp = useEver(help);
  const other = useOtherScheme();
  const phone = usePhone();
  const people = shelf?.people ?? [];
  const ask = (): void => {
    setAsking(true);
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
  return (
    <>
      <header className="strip">
        <nav className="strip-nav" aria-label="The firm">
          {(phone ? PLACES.slice(0, 1) : PLACES).map(([to, name]) => (
            <NavLink key={to} to={to} end className="strip-home">
              {name}
            </NavLink>
          ))}
        </nav>
        <div id="strip-job" className="strip-job" />
        <SendState />
        {phone ? (
          <PhoneMenu people={people} personId={personId} onAsk={ask} onHelp={openHelp} />
        ) : (
          <>
            <Menu position="bottom-end">
              <Menu.Target>
                <button
                  type="button"
                  className="strip-person"
                  aria-label={`Working as ${person?.name ?? 'nobody'}; change`}
                >
                  {person?.name ?? 'Who works?'}
                </button>
              </Menu.Target>
              <Menu.Dropdown>
                <People people={people} personId={personId} onAsk={ask} />
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
      {shelf && everAsked && (
        <PersonDialog
          people={shelf.people}
          opened={asks}
          mustChoose={!person}
          onClose={() => {
            setAsking(false);
          }}
        />
      )}
    </>
  );
}
