import { HOUSEHOLD_TEXTS, householdShape, householdTexts, type HouseholdText } from '@katharos/core';
import { HouseholdEditSchema, type Household, type HouseholdEdit } from '@katharos/contract';
import { Alert, Button, Group, Modal, Stack, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { schemaResolver, useForm } from '@mantine/form';
import { useState, type ReactElement } from 'react';
import { Link, useNavigate } from 'react-router';
import * as z from 'zod';
import { useGetRoundsQuery } from '../../data/api.ts';
import { problemOf } from '../../data/errors.ts';
import { addHousehold, editHousehold } from '../../data/outbox/outbox.ts';
import { differences, mergeEdits } from '../../ui/mergeEdits.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { unsavedChanges } from '../../ui/unsavedChanges.ts';
import { LeftUnsaved } from '../../ui/LeftUnsaved.tsx';
import { Theirs } from '../../ui/Theirs.tsx';
import { GrowingText } from '../../ui/GrowingText.tsx';

const EMPTY: HouseholdEdit = householdTexts({});
const KeptSchema = z.object(householdShape(() => z.string())).partial();

/** A name is looked for from so many letters on. */
const SEARCHED_FROM = 3;

/** What each is called on the page. */
const LABELS: Readonly<Record<HouseholdText, string>> = {
  name: 'Household',
  place: 'Place',
  address: 'Address for letters',
  contact: 'Contact',
  phone: 'Telephone',
  keyHolder: 'Who has the key',
  notes: 'Notes',
};

/** Adds or edits a household. What is typed is kept until it is saved; another's change in between is shown beside it. */
export default function HouseholdDialog({
  onClose,
  of,
}: {
  onClose: () => void;
  /** the household that is edited, with its job; left out, one is added */
  of?: { readonly household: Household; readonly jobId: string };
}): ReactElement {
  const household = of?.household;
  const navigate = useNavigate();
  const personId = useAppSelector((s) => s.session.personId);
  const dispatch = useAppDispatch();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const [theirs, setTheirs] = useState<Household | null>(null);
  const [version, setVersion] = useState(household?.version ?? 0);
  const [ids] = useState(() => ({ id: crypto.randomUUID(), jobId: crypto.randomUUID() }));
  const kept = unsavedChanges<HouseholdEdit>(`household.${household?.id ?? 'new'}`, KeptSchema);
  const [base, setBase] = useState(household ? householdTexts(household) : EMPTY);
  const form = useForm<HouseholdEdit>({
    initialValues: kept.over(base),
    validate: schemaResolver(HouseholdEditSchema, { sync: true }),
    onValuesChange: (values) => {
      kept.keep(base, values);
    },
  });
  /** What somebody else saved is what is changed from now on. */
  const settle = (stands: Household, values: HouseholdEdit): void => {
    setBase(householdTexts(stands));
    setVersion(stands.version);
    setTheirs(null);
    form.setValues(values);
    kept.keep(householdTexts(stands), values);
  };
  const save = async (edit: HouseholdEdit, asVersion: number): Promise<void> => {
    if (personId === null) return;
    setError(null);
    setBusy(true);
    const outcome = await dispatch(
      of
        ? editHousehold(of.jobId, { ...base, id: of.household.id, version: asVersion }, edit, personId)
        : addHousehold({ ...edit, ...ids }, personId),
    );
    setBusy(false);
    if (outcome.kind !== 'refused') {
      kept.forget();
      onClose();
      if (!household) void navigate(`/jobs/${ids.jobId}/gauge`);
      return;
    }
    if (outcome.current) setTheirs(outcome.current);
    else setError(outcome.reason);
    for (const f of problemOf(outcome)?.errors ?? []) form.setFieldError(f.path, f.message);
  };
  return (
    <Modal opened onClose={onClose} title={household ? 'Household' : 'Add a household'} size="lg">
      <form
        onSubmit={form.onSubmit((v) => {
          void save(v, version);
        })}
      >
        <Stack gap="sm">
          <LeftUnsaved
            changed={HOUSEHOLD_TEXTS.some((f) => form.values[f] !== base[f])}
            onStartOver={() => {
              form.setValues(base);
            }}
          />
          <TextInput
            label={LABELS.name}
            description="Street and number, floor"
            data-autofocus
            {...form.getInputProps('name')}
          />
          <TextInput label={LABELS.place} description="District, town" {...form.getInputProps('place')} />
          {!household && <SameHousehold name={form.values.name} place={form.values.place} onClose={onClose} />}
          <TextInput
            label={LABELS.address}
            description="Where it is not the household’s own"
            autoComplete="off"
            {...form.getInputProps('address')}
          />
          <div className="household-pair">
            <TextInput label={LABELS.contact} {...form.getInputProps('contact')} />
            <TextInput label={LABELS.phone} type="tel" inputMode="tel" {...form.getInputProps('phone')} />
          </div>
          <TextInput
            label={LABELS.keyHolder}
            description="Nobody without leave; it is in no calendar and no letter"
            {...form.getInputProps('keyHolder')}
          />
          <GrowingText label={LABELS.notes} minRows={2} {...form.getInputProps('notes')} />
          {error !== null && (
            <Alert color="red" role="alert">
              {error}
            </Alert>
          )}
          {theirs && (
            <Theirs
              what="this household"
              differences={differences(
                base,
                form.values,
                householdTexts(theirs),
                (k) => LABELS[k],
                (k, of) => of[k],
              )}
              onKeepMine={() => {
                const merged = mergeEdits(base, form.values, householdTexts(theirs));
                settle(theirs, merged);
                void save(merged, theirs.version);
              }}
              onTakeTheirs={() => {
                settle(theirs, householdTexts(theirs));
              }}
            />
          )}
          <Group justify="flex-end">
            <Button type="submit" loading={busy}>
              {household ? 'Save' : 'Add and gauge'}
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  );
}

/** A household of the same name and place that is there already: it is opened rather than added twice. */
function SameHousehold({ name, place, onClose }: { readonly name: string; readonly place: string; readonly onClose: () => void }): ReactElement | null {
  const [find] = useDebouncedValue(name.trim(), 300);
  const { data } = useGetRoundsQuery(find, { skip: find.length < SEARCHED_FROM });
  const plain = (s: string): string => s.trim().toLowerCase().replace(/\s+/g, ' ');
  const same = [...(data?.open.entries ?? []), ...(data?.kept.entries ?? [])].find(
    ({ household: h }) => plain(h.name) === plain(name) && plain(h.place) === plain(place),
  );
  if (!same) return null;
  return (
    <Alert color="yellow" title="This household is there already">
      <Link to={`/jobs/${same.jobId}/${same.summary.lens}`} onClick={onClose}>
        Open {same.household.name}, {same.household.place}
      </Link>
      . Add another only where it is another household.
    </Alert>
  );
} // oxfmt-ignore
