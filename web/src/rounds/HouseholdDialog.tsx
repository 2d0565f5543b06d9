import { HouseholdEditSchema, HouseholdSchema, type Household, type HouseholdEdit } from '@katharos/contract';
import { Alert, Button, Group, Modal, Stack, Textarea, TextInput } from '@mantine/core';
import { schemaResolver, useForm } from '@mantine/form';
import { useState, type ReactElement } from 'react';
import { useNavigate } from 'react-router';
import { z } from 'zod';
import { useAddHouseholdMutation, usePutHouseholdMutation } from '../app/api.ts';
import { errorWords, problemOf } from '../app/errors.ts';
import { keepMine } from '../app/keepMine.ts';
import { useAppSelector } from '../app/store.ts';

const EMPTY: HouseholdEdit = { name: '', place: '', contact: '', notes: '' };
const FIELDS = ['name', 'place', 'contact', 'notes'] as const;

const editOf = ({ name, place, contact, notes }: Household): HouseholdEdit => ({ name, place, contact, notes });

function drafted(key: string): HouseholdEdit | undefined {
  try {
    return z
      .object({ name: z.string(), place: z.string(), contact: z.string(), notes: z.string() })
      .safeParse(JSON.parse(localStorage.getItem(key) ?? 'null')).data;
  } catch {
    return undefined;
  }
}

/** Adds or edits a household. What is typed is kept until it is saved; another's change in between is shown beside it. */
export function HouseholdDialog({
  opened,
  onClose,
  household,
}: {
  opened: boolean;
  onClose: () => void;
  household?: Household;
}): ReactElement {
  const navigate = useNavigate();
  const personId = useAppSelector((s) => s.session.personId);
  const [add, adding] = useAddHouseholdMutation();
  const [put, putting] = usePutHouseholdMutation();
  const [error, setError] = useState<string | null>(null);
  const [theirs, setTheirs] = useState<Household | null>(null);
  const [version, setVersion] = useState(household?.version ?? 0);
  const [ids] = useState(() => ({ id: crypto.randomUUID(), jobId: crypto.randomUUID() }));
  const draftKey = `katharos.draft.household.${household?.id ?? 'new'}`;
  const start = household ? editOf(household) : EMPTY;
  const form = useForm<HouseholdEdit>({
    initialValues: drafted(draftKey) ?? start,
    validate: schemaResolver(HouseholdEditSchema, { sync: true }),
    onValuesChange: (values) => {
      try {
        localStorage.setItem(draftKey, JSON.stringify(values));
      } catch {
        // no room: it stays on the page
      }
    },
  });
  const save = async (edit: HouseholdEdit, asVersion: number): Promise<void> => {
    if (personId === null) return;
    setError(null);
    try {
      if (household) await put({ id: household.id, body: { ...edit, version: asVersion, by: personId } }).unwrap();
      else await add({ ...edit, ...ids, by: personId }).unwrap();
      localStorage.removeItem(draftKey);
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
    <Modal opened={opened} onClose={onClose} title={household ? 'Household' : 'Add a household'} size="lg">
      <form
        onSubmit={form.onSubmit((v) => {
          void save(v, version);
        })}
      >
        <Stack gap="sm">
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
            <Alert color="yellow" role="alert" title="Somebody else changed this household meanwhile">
              <table className="quiet-table">
                <thead>
                  <tr>
                    <th />
                    <th>yours</th>
                    <th>theirs</th>
                  </tr>
                </thead>
                <tbody>
                  {FIELDS.filter((f) => form.values[f] !== theirs[f]).map((f) => (
                    <tr key={f}>
                      <th>{f}</th>
                      <td>{form.values[f]}</td>
                      <td>{theirs[f]}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              <Group mt="sm">
                <Button
                  size="xs"
                  onClick={() => {
                    const merged = keepMine(start, form.values, editOf(theirs));
                    form.setValues(merged);
                    setVersion(theirs.version);
                    setTheirs(null);
                    void save(merged, theirs.version);
                  }}
                >
                  Keep mine
                </Button>
                <Button
                  size="xs"
                  variant="default"
                  onClick={() => {
                    form.setValues(editOf(theirs));
                    setVersion(theirs.version);
                    setTheirs(null);
                  }}
                >
                  Take theirs
                </Button>
              </Group>
            </Alert>
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
