import { LocalPicture } from '../parts/LocalPicture.tsx';
import { PictureInput } from '../parts/PictureInput.tsx';

/** An instrument's print-out, large beside the fields, so that its numbers can be typed from it; it stays with the reading. */
export function PrintOut({
  photos,
  onChange,
}: {
  photos: readonly File[];
  onChange: (photos: File[]) => void;
}) {
  if (photos.length === 0)
    return <PictureInput label="Photo of the print-out" onFiles={onChange} />;
  return (
    <div className="grid gap-2">
      {photos.map((photo) => (
        <LocalPicture
          key={photo.name + photo.lastModified}
          data={photo}
          alt="Print-out"
          className="max-h-[60dvh] w-full max-w-xl rounded-md border border-line object-contain"
        />
      ))}
      <p className="text-soft">Type its numbers above. The photo is saved with the reading.</p>
      <button type="button" className="act-quiet w-fit" onClick={() => onChange([])}>
        Remove photo
      </button>
    </div>
  );
}
