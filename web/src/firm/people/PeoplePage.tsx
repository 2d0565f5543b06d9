import { ROLE_WORDS, ROLES, type FirmPerson, type MadeLink, type Role, type Shelf } from '@katharos/contract';
import { Alert, Button, CopyButton, NativeSelect, Table, TextInput } from '@mantine/core';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { useAddPersonMutation, useGetPeopleQuery, useMakeLinkMutation, usePutPersonMutation } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { selectMay } from '../../data/session.ts';
import { useAppSelector } from '../../data/store.ts';
import { Archive } from './Archive.tsx';
import { Changes } from './Changes.tsx';
import { Devices } from './Devices.tsx';
import './people.css';

/** Who is with the firm and what each may do, on which devices they are signed in, and who changed what. */
export default function PeoplePage({ shelf }: { readonly shelf: Shelf }): ReactElement {
  const may = useAppSelector((s) => selectMay(s, 'GET /people'));
  const people = useGetPeopleQuery(null, { skip: !may, refetchOnMountOrArgChange: true });
  if (!may) return <p role="alert">Only the owner of the firm sees its people and devices.</p>;
  return (
    <>
      <div className="firm-head">
        <h1>People and devices</h1>
      </div>
      {people.error !== undefined && (
        <Alert color="red" role="alert">
          {errorWords(people.error)}
        </Alert>
      )}
      {people.data && <People people={people.data} />}
      <Devices days={shelf.rules.deviceDays} />
      <Archive />
      <Changes people={people.data ?? []} />
    </>
  );
}

function People({ people }: { readonly people: readonly FirmPerson[] }): ReactElement {
  const [link, setLink] = useState<(MadeLink & { readonly name: string }) | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [make] = useMakeLinkMutation();
  const linkFor = async ({ id, name }: Pick<FirmPerson, 'id' | 'name'>): Promise<void> => {
    setFault(null);
    try {
      setLink({ ...(await make(id).unwrap()), name });
    } catch (e) {
      setFault(errorWords(e));
    }
  };
  return (
    <section aria-labelledby="people-title">
      <h2 className="zone-title" id="people-title">
        People
      </h2>
      <div className="people-table">
        <Table verticalSpacing={6}>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Name</Table.Th>
              <Table.Th>May do</Table.Th>
              <Table.Th>Comes in</Table.Th>
              <Table.Th>
                <span className="visually-hidden">What can be done</span>
              </Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {people.map((p) => (
              <Person key={p.id} person={p} onLink={() => void linkFor(p)} onFault={setFault} />
            ))}
          </Table.Tbody>
        </Table>
      </div>
      {fault !== null && (
        <p role="alert" className="caution">
          {fault}
        </p>
      )}
      {link && <LinkMade link={link} />}
      <Add onAdded={(p) => void linkFor(p)} />
    </section>
  );
}

interface PersonProps {
  readonly person: FirmPerson;
  readonly onLink: () => void;
  readonly onFault: (fault: string | null) => void;
}

function Person({ person: p, onLink, onFault }: PersonProps): ReactElement {
  const [put, { isLoading }] = usePutPersonMutation();
  const click = useAppSelector((s) => s.session.click) !== null;
  const self = useAppSelector((s) => s.session.personId) === p.id;
  const change = async (to: Partial<FirmPerson>): Promise<void> => {
    onFault(null);
    try {
      await put({ ...p, ...to }).unwrap();
    } catch (e) {
      onFault(errorWords(e));
    }
  };
  return (
    <Table.Tr data-left={p.left}>
      <Table.Td>
        {p.name}
        {self && <span className="small"> (you)</span>}
      </Table.Td>
      <Table.Td>
        <NativeSelect
          aria-label={`What ${p.name} may do`}
          value={p.role}
          disabled={p.left || isLoading}
          data={ROLES.map((r) => ({ value: r, label: `${r}: ${ROLE_WORDS[r]}` }))}
          onChange={(e) => void change({ role: e.currentTarget.value as Role })}
        />
      </Table.Td>
      <Table.Td>{comesIn(p, click)}</Table.Td>
      <Table.Td className="people-acts">
        {!p.left && (
          <Button size="compact-sm" variant="default" onClick={onLink}>
            {p.ready ? 'Link for a new password' : 'Link to come in'}
          </Button>
        )}
        {!self && (
          <Button size="compact-sm" variant="subtle" onClick={() => void change({ left: !p.left })}>
            {p.left ? 'Is back' : 'Left the firm'}
          </Button>
        )}
      </Table.Td>
    </Table.Tr>
  );
}

function comesIn(p: FirmPerson, click: boolean): string {
  if (p.left) return 'no more: left the firm';
  if (click) return 'by a click, in the demo';
  return p.ready ? 'by a password' : 'not yet: needs a link';
}

/** A link as it was made: it is shown once, and the owner hands it over. */
function LinkMade({ link }: { readonly link: MadeLink & { readonly name: string } }): ReactElement {
  const address = `${location.origin}/join#${link.token}`;
  return (
    <Alert color="blue" role="status" title={`A link for ${link.name}`} my="sm">
      <p>
        It works once, until {dayjs(link.until).format('ddd D MMM, HH:mm')}, and is not shown again. Whoever has it
        comes in as {link.name}: hand it over yourself.
      </p>
      <code className="people-link">{address}</code>
      <CopyButton value={address}>
        {({ copied, copy }) => (
          <Button size="compact-sm" mt="xs" onClick={copy}>
            {copied ? 'Copied' : 'Copy'}
          </Button>
        )}
      </CopyButton>
    </Alert>
  );
}

function Add({ onAdded }: { readonly onAdded: (p: FirmPerson) => void }): ReactElement {
  const [name, setName] = useState('');
  const [role, setRole] = useState<Role>('fitter');
  const [id, setId] = useState(() => crypto.randomUUID());
  const [add, { isLoading, error }] = useAddPersonMutation();
  const submit = async (): Promise<void> => {
    const made = await add({ id, name, role })
      .unwrap()
      .catch(() => null);
    if (!made) return;
    setName('');
    setId(crypto.randomUUID());
    onAdded(made);
  };
  return (
    <form
      className="people-add"
      onSubmit={(e) => {
        e.preventDefault();
        void submit();
      }}
    >
      <TextInput
        label="Somebody new"
        value={name}
        maxLength={120}
        onChange={(e) => {
          setName(e.currentTarget.value);
        }}
        error={error ? errorWords(error) : undefined}
      />
      <NativeSelect
        label="May do"
        value={role}
        data={ROLES.map((r) => ({ value: r, label: `${r}: ${ROLE_WORDS[r]}` }))}
        onChange={(e) => {
          setRole(e.currentTarget.value as Role);
        }}
      />
      <Button type="submit" loading={isLoading} disabled={name.trim() === ''}>
        Add, and make a link
      </Button>
    </form>
  );
}
