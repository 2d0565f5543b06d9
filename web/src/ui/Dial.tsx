import { dialled } from '@katharos/core';
import { IconPhone } from './icons.ts';
import type { ReactElement } from 'react';

/** A telephone number that is called by a touch. @param who whose it is; @param bare the sign alone */
export function Dial({
  phone,
  who,
  bare = false,
}: {
  /** none in what an earlier release kept */
  readonly phone: string | undefined;
  readonly who: string;
  readonly bare?: boolean;
}): ReactElement | null {
  const number = dialled(phone);
  if (number === null || phone === undefined) return phone && !bare ? <span>{phone}</span> : null;
  return (
    <a className="dial" href={`tel:${number}`} aria-label={`Call ${who}, ${phone}`}>
      <IconPhone size={16} aria-hidden="true" />
      {!bare && phone}
    </a>
  );
}
