import type { PictureBlock } from '@palabra/core/letters';
import { useState } from 'react';
import { problemOf } from '../../app/api';
import { useAddPictureMutation } from '../letters.api';
import { Href } from './Href';
import type { BodyProps } from './kind';

export function Picture({ block, chosen, disabled, onChange }: BodyProps<PictureBlock>) {
  const [upload, uploading] = useAddPictureMutation();
  const [error, setError] = useState<string>();
  const [over, setOver] = useState(false);
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setError(undefined);
    if (file.size > 10 * 1024 * 1024) {
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
  return (
    <>
      {block.file === '' ? (
        <label
          className={`drop ${over ? 'over' : ''}`}
          onDragOver={(event) => {
            event.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(event) => {
            event.preventDefault();
            setOver(false);
            void take(event.dataTransfer.files[0]);
          }}
        >
          <input
            type="file"
            className="hidden"
            accept="image/*"
            aria-label="Choose a picture"
            disabled={disabled}
            onChange={(event) => void take(event.currentTarget.files?.[0])}
          />
          {uploading.isLoading ? 'Taking it in …' : 'Choose a picture, or drop one here'}
        </label>
      ) : (
        <img
          src={`/files/${block.file}`}
          alt={block.alt}
          style={{ display: 'block', width: '100%', height: 'auto' }}
          width={block.width}
          height={block.height}
        />
      )}
      {error && (
        <p className="wrong small" role="alert">
          {error}
        </p>
      )}
      {chosen && (
        <div className="block-settings">
          <label style={{ flex: '1 1 220px' }}>
            says, for those who don’t see it
            <input
              className="line-input"
              style={{ flex: 1 }}
              aria-label="Alt text"
              maxLength={500}
              disabled={disabled}
              value={block.alt}
              onChange={(event) => onChange({ ...block, alt: event.currentTarget.value })}
            />
          </label>
          <Href
            value={block.href}
            disabled={disabled}
            onChange={(href) => onChange({ ...block, href })}
          />
          {block.file !== '' && !disabled && (
            <label className="act" style={{ color: 'var(--accent)' }}>
              <input
                type="file"
                className="hidden"
                accept="image/*"
                aria-label="Choose another picture"
                onChange={(event) => void take(event.currentTarget.files?.[0])}
              />
              {uploading.isLoading ? 'Taking it in …' : 'Another picture'}
            </label>
          )}
        </div>
      )}
    </>
  );
}
