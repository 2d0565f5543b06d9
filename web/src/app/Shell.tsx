import { ActionIcon, Menu, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { IconHelp, IconMoon, IconSun } from '@tabler/icons-react';
import { useEffect, useState, type ReactElement } from 'react';
import { NavLink, Outlet } from 'react-router';
import { HelpSheet } from './HelpSheet.tsx';
import { isTyping } from '../ui/isTyping.ts';
import { PersonDialog } from './PersonDialog.tsx';
import { SendState } from './SendState.tsx';
import { useEver } from '../ui/useEver.ts';
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

/** The slim strip on top, and the page under it. */
export function Shell(): ReactElement {
  const [help, setHelp] = useState(false);
  const [asking, setAsking] = useState(false);
  const dispatch = useAppDispatch();
  const personId = useAppSelector((s) => s.session.personId);
  const shelf = useGetShelfQuery(null).data;
  useChanges();
  const person = shelf?.people.find((p) => p.id === personId);
  const asks = asking || (shelf !== undefined && !person);
  const everAsked = useEver(asks);
  const everHelp = useEver(help);
  const scheme = useComputedColorScheme('light');
  const { setColorScheme } = useMantineColorScheme();
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
          {PLACES.map(([to, name]) => (
            <NavLink key={to} to={to} end className="strip-home">
              {name}
            </NavLink>
          ))}
        </nav>
        <div id="strip-job" className="strip-job" />
        <SendState />
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
            {shelf?.people.map((p) => (
              <Menu.Item
                key={p.id}
                onClick={() => {
                  dispatch(personChosen(p.id));
                }}
              >
                {p.name}
              </Menu.Item>
            ))}
            <Menu.Divider />
            <Menu.Item
              onClick={() => {
                setAsking(true);
              }}
            >
              Add a person
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
        <ActionIcon
          variant="subtle"
          size={34}
          aria-label={scheme === 'dark' ? 'Light page' : 'Dark page'}
          onClick={() => {
            setColorScheme(scheme === 'dark' ? 'light' : 'dark');
          }}
        >
          {scheme === 'dark' ? <IconSun size={18} /> : <IconMoon size={18} />}
        </ActionIcon>
        <ActionIcon
          variant="subtle"
          size={34}
          aria-label="Help and keys"
          onClick={() => {
            setHelp(true);
          }}
        >
          <IconHelp size={18} />
        </ActionIcon>
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
