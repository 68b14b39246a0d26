import type { NoteWire } from '../../contract/paperWire.ts';
import { pathTo } from '../line/api.ts';

/** The small picture of a note; where it stands in a button, the button says what it is. */
export function SmallPicture({
  note: { picture },
  alt = '',
  className,
}: {
  note: Pick<NoteWire, 'picture'>;
  alt?: string;
  className: string;
}) {
  const src = pathTo('picture', {
    params: { name: picture?.name ?? '' },
    query: { size: 'small' },
  });
  return <img src={src} alt={alt} className={className} />;
}
