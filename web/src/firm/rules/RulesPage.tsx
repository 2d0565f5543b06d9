import { StoredRulesSchema, type Shelf } from '@katharos/contract';
import { HouseRulesSchema, ruleRange, RULE_TEXTS, type HouseRules } from '@katharos/core';
import { Alert, Button, NativeSelect, NumberInput, Switch, TextInput } from '@mantine/core';
import { schemaResolver, useForm } from '@mantine/form';
import { notifications } from '@mantine/notifications';
import { useState, type ReactElement } from 'react';
import * as z from 'zod';
import { usePutRulesMutation } from '../../data/api.ts';
import { errorWords, problemOf } from '../../data/errors.ts';
import { differences, mergeEdits } from '../../ui/mergeEdits.ts';
import { unsavedChanges } from '../../ui/unsavedChanges.ts';
import { Theirs } from '../../ui/Theirs.tsx';
import './rules.css';

const KEYS = Object.keys(RULE_TEXTS) as (keyof HouseRules)[];
const GROUPS = [...new Set(KEYS.map((k) => RULE_TEXTS[k].group))];
const typed = z.union([z.string(), z.number(), z.boolean()]).optional();
const kept = unsavedChanges<HouseRules>('rules', z.object(Object.fromEntries(KEYS.map((k) => [k, typed]))));

/** The firm's choices where practice differs, each with why and what others do; used wherever something is worked out. */
export default function RulesPage({ shelf }: { shelf: Shelf }): ReactElement {
  const [put, { isLoading }] = usePutRulesMutation();
  const [version, setVersion] = useState(shelf.rulesVersion);
  const [base, setBase] = useState(shelf.rules);
  const [theirs, setTheirs] = useState<{ rules: HouseRules; version: number } | null>(null);
  const [error, setError] = useState<string | null>(null);
  const form = useForm<HouseRules>({
    // what the store holds is frozen, and the form writes into its own
    initialValues: kept.over(shelf.rules),
    validate: schemaResolver(HouseRulesSchema, { sync: true }),
    onValuesChange: (values) => {
      kept.keep(base, values);
    },
  });
  const changed = KEYS.filter((k) => form.values[k] !== base[k]);
  const settle = (rules: HouseRules, at: number): void => {
    setBase(rules);
    setVersion(at);
    setTheirs(null);
    kept.forget();
  };
  const save = async (rules: HouseRules, at: number): Promise<void> => {
    setError(null);
    try {
      const stored = await put({ rules, version: at }).unwrap();
      const before = base;
      form.setValues({ ...stored.rules });
      settle(stored.rules, stored.version);
      notifications.show({
        message: (
          <>
            House rules saved; every sizing follows.{' '}
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => {
                form.setValues({ ...before });
                void save(before, stored.version);
              }}
            >
              Undo
            </Button>
          </>
        ),
      });
    } catch (e) {
      const current = StoredRulesSchema.safeParse(problemOf(e)?.current).data;
      if (current) setTheirs(current);
      else setError(errorWords(e));
    }
  };
  return (
    <form
      onSubmit={form.onSubmit((v) => {
        void save(v, version);
      })}
    >
      <div className="firm-head">
        <h1>House rules</h1>
        <span className="small">
          {changed.length === 0 ? 'as saved' : `${String(changed.length)} changed, not saved yet`}
        </span>
        {changed.length > 0 && (
          <Button
            variant="default"
            onClick={() => {
              form.setValues({ ...base });
              kept.forget();
            }}
          >
            Back to what is saved
          </Button>
        )}
        <Button type="submit" loading={isLoading} disabled={changed.length === 0}>
          Save the rules
        </Button>
      </div>
      {error !== null && (
        <Alert color="red" role="alert">
          {error}
        </Alert>
      )}
      {theirs && (
        <Theirs
          what="the rules"
          differences={differences(base, form.values, theirs.rules, (k) => RULE_TEXTS[k].label, ruleWords)}
          onKeepMine={() => void save(mergeEdits(base, form.values, theirs.rules), theirs.version)}
          onTakeTheirs={() => {
            form.setValues({ ...theirs.rules });
            settle(theirs.rules, theirs.version);
          }}
        />
      )}
      <p className="small">
        Where practitioners differ the main schools stand here, each with a default and its reason. Local codes and
        licensed practice come first.
      </p>
      {GROUPS.map((group) => (
        <section key={group} aria-labelledby={`rules-${group}`}>
          <h2 className="zone-title" id={`rules-${group}`}>
            {group}
          </h2>
          {KEYS.filter((k) => RULE_TEXTS[k].group === group).map((k) => (
            <div key={k} className="rule" data-changed={changed.includes(k)}>
              <span aria-hidden="true" className="rule-label">
                {RULE_TEXTS[k].label}
              </span>
              <Rule field={k} form={form} />
              <p>
                {RULE_TEXTS[k].why}
                {RULE_TEXTS[k].others !== '' && <small>Others: {RULE_TEXTS[k].others}.</small>}
              </p>
            </div>
          ))}
        </section>
      ))}
    </form>
  );
}

/** A rule's choice in the words it is offered in. */
function ruleWords(key: keyof HouseRules, rules: HouseRules): string {
  const value = rules[key];
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return RULE_TEXTS[key].options?.[String(value)] ?? `${String(value)} ${RULE_TEXTS[key].unit}`.trim();
}

type Form = ReturnType<typeof useForm<HouseRules>>;

function Rule({
  field,
  form,
}: {
  field: keyof HouseRules;
  form: Pick<Form, 'values' | 'getInputProps'>;
}): ReactElement {
  const text = RULE_TEXTS[field];
  const props = form.getInputProps(field);
  if (text.options)
    return (
      <NativeSelect
        aria-label={text.label}
        size="xs"
        data={Object.entries(text.options).map(([value, label]) => ({ value, label }))}
        {...props}
      />
    );
  if (typeof form.values[field] === 'boolean')
    return <Switch aria-label={text.label} {...form.getInputProps(field, { type: 'checkbox' })} />;
  const range = ruleRange(field);
  if (!range) return <TextInput aria-label={text.label} size="xs" {...props} />;
  return (
    <NumberInput
      aria-label={text.label}
      size="xs"
      suffix={text.unit === '' ? '' : ` ${text.unit}`}
      decimalSeparator="."
      allowedDecimalSeparators={[',', '.']}
      min={range.min}
      max={range.max}
      clampBehavior="none"
      {...props}
    />
  );
}
