import { HouseholdEditSchema, HouseholdSchema, type Household, type HouseholdEdit } from '@katharos/contract';
import { Alert, Button, Group, Modal, Stack, Textarea, TextInput } from '@mantine/core';
import { schemaResolver, useForm } from '@mantine/form';
import { useState, type ReactElement } from 'react';
import { useNavigate } from 'react-router';
import { z } from 'zod';
import { useAddHouseholdMutation, usePutHouseholdMutation } from '../../data/api.ts';
import { errorWords, problemOf } from '../../data/errors.ts';
import { differences, keepMine } from '../../ui/keepMine.ts';
import { useAppSelector } from '../../data/store.ts';
import { keptChanges } from '../../ui/kept.ts';
import { LeftUnsaved } from '../../ui/LeftUnsaved.tsx';
import { Theirs } from '../../ui/Theirs.tsx';

const EMPTY: HouseholdEdit = { name: '', place: '', contact: '', notes: '' };
const FIELDS = ['name', 'place', 'contact', 'notes'] as const;

const editOf = ({ name, place, contact, notes }: Household): HouseholdEdit => ({ name, place, contact, notes });

const KeptSchema = z.object({ name: z.string(), place: z.string(), contact: z.string(), notes: z.string() }).partial();

/** Adds or edits a household. What is typed is kept until it is saved; another's change in between is shown beside it. */
export function HouseholdDialog({ onClose, household }: { onClose: () => void; household?: Household }): ReactElement {
  const navigate = useNavigate();
  const personId = useAppSelector((s) => s.session.personId);
  const [add, adding] = useAddHouseholdMutation();
  const [put, putting] = usePutHouseholdMutation();
  const [error, setError] = useState<string | null>(null);
  const [theirs, setTheirs] = useState<Household | null>(null);
  const [version, setVersion] = useState(household?.version ?? 0);
  const [ids] = useState(() => ({ id: crypto.randomUUID(), jobId: crypto.randomUUID() }));
  const kept = keptChanges<HouseholdEdit>(`household.${household?.id ?? 'new'}`, KeptSchema);
  const [base, setBase] = useState(household ? editOf(household) : EMPTY);
  const form = useForm<HouseholdEdit>({
    initialValues: kept.over(base),
    validate: schemaResolver(HouseholdEditSchema, { sync: true }),
    onValuesChange: (values) => {
      kept.keep(base, values);
    },
  });
  /** What somebody else saved is what is changed from now on. */
  const settle = (stands: Household, values: HouseholdEdit): void => {
    setBase(editOf(stands));
    setVersion(stands.version);
    setTheirs(null);
    form.setValues(values);
    kept.keep(editOf(stands), values);
  };
  const save = async (edit: HouseholdEdit, asVersion: number): Promise<void> => {
    if (personId === null) return;
    setError(null);
    try {
      if (household) await put({ id: household.id, body: { ...edit, version: asVersion, by: personId } }).unwrap();
      else await add({ ...edit, ...ids, by: personId }).unwrap();
      kept.forget();
      onClose();
      if (!household) void navigate(`/jobs/${ids.jobId}/gauge`);
    } catch (e) {
      const problem = problemOf(e);
      const current = problem?.status === 409 ? HouseholdSchema.safeParse(problem.current).data : undefined;
      if (current) setTheirs(current);
      else setError(errorWords(e));
      for (const f of problem?.errors ?? []) form.setFieldError(f.path, f.message);
    }
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
            changed={FIELDS.some((f) => form.values[f] !== base[f])}
            onStartOver={() => {
              form.setValues(base);
            }}
          />
          <TextInput
            label="Household"
            description="Street and number, floor"
            data-autofocus
            {...form.getInputProps('name')}
          />
          <TextInput label="Place" {...form.getInputProps('place')} />
          <TextInput label="Contact" {...form.getInputProps('contact')} />
          <Textarea label="Notes" autosize minRows={2} {...form.getInputProps('notes')} />
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
                editOf(theirs),
                (k) => k,
                (k, of) => of[k],
              )}
              onKeepMine={() => {
                const merged = keepMine(base, form.values, editOf(theirs));
                settle(theirs, merged);
                void save(merged, theirs.version);
              }}
              onTakeTheirs={() => {
                settle(theirs, editOf(theirs));
              }}
            />
          )}
          <Group justify="flex-end">
            <Button type="submit" loading={adding.isLoading || putting.isLoading}>
              {household ? 'Save' : 'Add and gauge'}
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  );
}
