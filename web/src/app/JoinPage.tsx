import { LinkSchema, type Link } from '@katharos/contract';
import { Alert, Loader, TextInput } from '@mantine/core';
import { useEffect, useState, type ReactElement } from 'react';
import { useNavigate } from 'react-router';
import { errorWords } from '../data/errors.ts';
import { joinBy } from '../data/signing.ts';
import { useAppDispatch } from '../data/store.ts';
import { LetInForm, Password, Remember } from './LetInForm.tsx';
import './signIn.css';

const WORDS: Readonly<Record<Link['purpose'], { readonly title: string; readonly why: string; readonly go: string }>> =
  {
    owner: {
      title: 'Begin the firm',
      why: 'You become its owner: you bring the others in, say what each may do, and see every device.',
      go: 'Begin',
    },
    join: { title: 'Come in', why: 'Choose a password of your own; the link works once.', go: 'Come in' },
    reset: {
      title: 'A new password',
      why: 'Wherever you are signed in by the old one you are signed out.',
      go: 'Set it and come in',
    },
  };

/** Where a one-time link leads. What it carries stands behind the # of the address, which no server is sent. */
export function JoinPage(): ReactElement {
  const [token] = useState(() => location.hash.slice(1));
  const [link, setLink] = useState<Link | { readonly fault: string } | null>(null);
  useEffect(() => {
    // nothing of it stays in the address, nor in what the browser remembers
    history.replaceState(history.state, '', location.pathname);
    void lookAt(token).then(setLink);
  }, [token]);
  return (
    <main className="sign-in">
      <h1>Katharos</h1>
      {link === null ? (
        <Loader aria-label="Looking at the link" />
      ) : 'fault' in link ? (
        <Alert color="red" role="alert" title="This link does not open anything">
          {link.fault} Ask the owner of the firm for another.
        </Alert>
      ) : (
        <JoinForm link={link} token={token} />
      )}
    </main>
  );
}

async function lookAt(token: string): Promise<Link | { fault: string }> {
  try {
    const res = await fetch('/api/links/look', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ token }),
    });
    const text = await res.text();
    const link = res.ok ? LinkSchema.safeParse(JSON.parse(text)).data : undefined;
    return link ?? { fault: errorWords({ data: text }) };
  } catch {
    return { fault: 'The server does not answer.' };
  }
}

function JoinForm({ link, token }: { readonly link: Link; readonly token: string }): ReactElement {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [name, setName] = useState(link.name);
  const [password, setPassword] = useState('');
  const [remember, setRemember] = useState(true);
  const words = WORDS[link.purpose];
  const first = link.purpose === 'owner';
  return (
    <LetInForm
      go={words.go}
      ready={password.length >= 10 && !(first && name.trim() === '')}
      ask={() => dispatch(joinBy({ token, password, remember, ...(first ? { name } : {}) }))}
      onIn={() => void navigate('/')}
    >
      <h2 className="zone-title">
        {words.title}
        {first ? '' : `, ${link.name}`}
      </h2>
      <p>{words.why}</p>
      {first && (
        <TextInput
          label="Your name"
          autoComplete="username"
          maxLength={120}
          value={name}
          onChange={(e) => {
            setName(e.currentTarget.value);
          }}
        />
      )}
      <Password
        label="Password"
        description="Ten signs at least. Three or four words that do not belong together are good, and easy to keep."
        fresh
        value={password}
        onChange={setPassword}
      />
      <Remember checked={remember} onChange={setRemember} />
    </LetInForm>
  );
}
