import { Button, FileButton } from '@mantine/core';
import { IconDownload, IconUpload } from '../../ui/icons.ts';
import { useState, type ReactElement } from 'react';
import { useBringArchiveMutation } from '../../data/api.ts';
import { errorWords, problemOf } from '../../data/errors.ts';

/** What is wrong with an archive, with the file of it that it is about. */
function faultWords(error: unknown): string {
  const p = problemOf(error);
  const told = p?.errors?.map((e) => `${e.path} ${e.message}.`) ?? [];
  return told.length === 0 ? errorWords(error) : ['Nothing was brought in.', ...told].join(' ');
}

/** The whole firm out as one archive of open files, and into a new installation. */
export function Archive(): ReactElement {
  const [bring, { isLoading, error, data, reset }] = useBringArchiveMutation({ fixedCacheKey: 'archive' });
  const [asked, setAsked] = useState<File | null>(null);
  return (
    <section aria-labelledby="archive-title" className="archive">
      <h2 className="zone-title" id="archive-title">
        The whole firm as one file
      </h2>
      <p className="small">
        Every job with its photographs, the shelf, the house rules, instruments, stock, the day’s table and who is with
        the firm: a ZIP of open files, each with its checksum in SHA256SUMS. Passwords and devices are not in it. Whoever
        has it has the households’ names and addresses: keep it where only the owner comes.
      </p>
      <div className="archive-acts">
        <Button component="a" href="/api/archive" download variant="default" leftSection={<IconDownload size={16} />}>
          Take the firm out
        </Button>
        <FileButton
          accept="application/zip,.zip"
          onChange={(f) => {
            reset();
            setAsked(f);
          }}
        >
          {(props) => (
            <Button {...props} variant="default" leftSection={<IconUpload size={16} />} loading={isLoading}>
              Bring a firm in
            </Button>
          )}
        </FileButton>
      </div>
      {asked && !data && (
        <div role="group" aria-label="Before it is brought in" className="archive-asked">
          <p>
            {asked.name} becomes this firm: it has to be empty, and its shelf and house rules make way for the archive’s.
            Whole or not at all.
          </p>
          <Button
            loading={isLoading}
            onClick={() => {
              void bring(asked);
            }}
          >
            Bring it in
          </Button>
        </div>
      )}
      {error !== undefined && (
        <p role="alert" className="caution">
          {faultWords(error)}
        </p>
      )}
      {data && (
        <div role="status">
          <p>
            In: {data.jobs} households, {data.people} people, {data.pictures} photographs. Everybody needs a link to come
            in here. Checksum <code className="people-link">{data.checksum}</code>
          </p>
          <Button
            onClick={() => {
              // who one is, and the whole shelf, may be others now
              location.assign('/');
            }}
          >
            Go on to the rounds
          </Button>
        </div>
      )}
    </section>
  );
} // oxfmt-ignore
