import { choicesIn, choicesTogether, choiceWords, type ChoiceField, type FieldKey } from '@katharos/core';
import { Chip, Input } from '@mantine/core';
import type { ReactElement } from 'react';
import { usePhone } from '../../ui/usePhone.ts';
import { fieldId } from './fieldWords.ts';

/** A question that may have several answers at once: each is a chip; the one for none of them stands alone. */
export function SeveralChoices({
  field,
  of: f,
  value,
  description,
  onTake,
}: {
  field: FieldKey;
  of: ChoiceField;
  value: string | null;
  description: string;
  onTake: (value: string | null, typed: string) => void;
}): ReactElement {
  const phone = usePhone();
  const chosen = value === null ? [] : choicesIn(value);
  return (
    <Input.Wrapper label={f.label} description={description} inputWrapperOrder={['label', 'input', 'description']}>
      <Chip.Group
        multiple
        value={chosen}
        onChange={(now) => {
          const alone = f.severalOr ?? '';
          const cleared = now.length === 0;
          const next = now.includes(alone) && !chosen.includes(alone) ? alone : choicesTogether(f, now);
          onTake(cleared ? null : next, cleared ? '' : choiceWords(f, next));
        }}
      >
        <div className="several" role="group" aria-label={f.label}>
          {Object.entries(f.options).map(([option, label], i) => (
            <Chip
              key={option}
              {...(i === 0 ? { id: fieldId(field) } : {})}
              value={option}
              size={phone ? 'md' : 'xs'}
              radius="sm"
              variant="outline"
            >
              {label}
            </Chip>
          ))}
        </div>
      </Chip.Group>
    </Input.Wrapper>
  );
}
