import { Textarea } from '@mantine/core';
import type { PictureBlock } from '@palabra/core/letters';
import { useState } from 'react';
import { problemOf } from '../../api/problems';
import { FilePlace, FileWords } from '../../ui/FilePlace';
import { Note } from '../../ui/states';
import classes from '../letters.module.css';
import { useAddPictureMutation } from '../letters.api';
import { Href } from './Href';
import type { BodyProps } from './kind';

const MOST = 10 * 1024 * 1024;

export function Picture({ block, chosen, disabled, onChange }: BodyProps<PictureBlock>) {
  const [upload, uploading] = useAddPictureMutation();
  const [error, setError] = useState<string>();
  const take = async (file: File): Promise<void> => {
    setError(undefined);
    if (file.size > MOST) {
      setError(`This picture has ${Math.round(file.size / 1024 / 1024)} MB; 10 MB are the most.`);
      return;
    }
    try {
      const { file: id, width, height } = await upload(file).unwrap();
      onChange({ ...block, file: id, width, height });
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  const isEmpty = block.file === '';
  return (
    <>
      {isEmpty ? (
        <FilePlace
          label="Choose a picture"
          accept="image/*"
          disabled={disabled}
          busy={uploading.isLoading}
          onFile={(file) => void take(file)}
        >
          Choose a picture, or drop one here
        </FilePlace>
      ) : (
        <img
          className={classes.picture}
          src={`/files/${block.file}`}
          alt={block.alt}
          width={block.width}
          height={block.height}
        />
      )}
      {error && <Note kind="wrong">{error}</Note>}
      {chosen && (
        <div className={classes.settings}>
          <label className={`${classes.setting} ${classes.wide}`}>
            says, for those who don’t see it
            <Textarea
              variant="line"
              autosize
              aria-label="Alt text"
              maxLength={500}
              disabled={disabled}
              value={block.alt}
              onChange={(event) =>
                onChange({ ...block, alt: event.currentTarget.value.replace(/\n/g, ' ') })
              }
            />
          </label>
          <Href
            value={block.href}
            disabled={disabled}
            onChange={(href) => onChange({ ...block, href })}
          />
          {!isEmpty && !disabled && (
            <FileWords
              label="Choose another picture"
              accept="image/*"
              busy={uploading.isLoading}
              onFile={(file) => void take(file)}
            >
              Another picture
            </FileWords>
          )}
        </div>
      )}
    </>
  );
}
