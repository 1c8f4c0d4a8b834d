// Which letter: chosen, and seen.
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { LinePreview, pictureOf, useLetterQuery, useLettersQuery } from '../letters';
import { Pick } from '../ui/Pick';
import { SheetLine } from '../ui/Sheet';
import { Soft } from '../ui/text';
import { letterOf } from './campaigns.api';
import classes from './campaigns.module.css';
import { LetterPicture } from './LetterPicture';
import type { PartProps } from './useCampaign';

export function WhatPart({
  id,
  value: { letterId },
  disabled,
  onChange,
  children,
}: PartProps & { readonly children: ReactNode }) {
  const letters = useLettersQuery();
  const letter = useLetterQuery(letterId ?? 0, { skip: letterId === null });
  const chosen = letterId === null ? undefined : letter.currentData;
  const known = letters.data?.some((one) => one.id === letterId) ?? true;
  const options = [
    ...(letters.data?.map((one) => ({ value: one.id, label: one.name })) ?? []),
    ...(letterId !== null && !known
      ? [{ value: letterId, label: chosen?.name ?? 'a letter that was deleted' }]
      : []),
  ];
  return (
    <div className={classes.what}>
      <div>
        <SheetLine label="letter">
          <Pick
            label="Letter"
            nothing="none chosen yet"
            disabled={disabled}
            value={letterId}
            options={options}
            onChange={(next) => onChange({ letterId: next })}
          />
          {letterId !== null && (
            <Link to={`/letters/${letterId}`}>{disabled ? 'Open' : 'Write'}</Link>
          )}
          {letterId === null && !disabled && <Link to="/letters">New letter</Link>}
        </SheetLine>
        {chosen && (
          <>
            <SheetLine label="subject" whole>
              <span>
                <LinePreview line={chosen.content.subject} empty="no subject yet" />
              </span>
            </SheetLine>
            <SheetLine label="preview" whole>
              <Soft>
                <LinePreview line={chosen.content.preview} empty="no preview line yet" />
              </Soft>
            </SheetLine>
          </>
        )}
        {children}
      </div>
      {chosen && (
        <LetterPicture
          src={disabled && id !== undefined ? letterOf(id) : pictureOf(chosen.id, chosen.version)}
          title={disabled ? 'The letter as it goes out' : 'The letter'}
        />
      )}
    </div>
  );
}
