import { formatStamp } from '../../../core/quantities/format.ts';
import { useFileStanding, usePictureRoom, useRules } from '../../line/queries.ts';

/** How the data lies on its disk, and how old its last copy is. */
export function Backups() {
  const { data } = useFileStanding();
  const pictures = usePictureRoom().data;
  const wall = useRules();
  if (!data) return null;
  const { backupAt, freeBytes } = data;
  return (
    <section aria-labelledby="data">
      <h2 id="data" className="mb-2 border-b-2 border-ink pb-1 text-2xl">
        Backups
      </h2>
      <p className="text-lg leading-tight">
        <b>
          {backupAt === null
            ? 'No backup yet.'
            : `Last backup ${formatStamp(backupAt, wall)}, opened and found whole.`}
        </b>
        <span className="mt-1 block text-base text-soft">
          A shop makes one each day beside its data and keeps fourteen. Keep one elsewhere too:{' '}
          <code>npm run backup -- --shop --to FILE</code>, back with{' '}
          <code>npm run restore -- --shop --from FILE</code>.
        </span>
        <span className="mt-1 block text-base text-soft">
          {(freeBytes / 1e9).toFixed(1)} GB are free on its disk.
        </span>
        {pictures && (
          <span className="mt-1 block text-base text-soft">
            {pictures.count === 1 ? '1 picture takes' : `${pictures.count} pictures take`}{' '}
            {(pictures.bytes / 1e6).toFixed(1)} MB of {(pictures.roomBytes / 1e9).toFixed(0)} GB.
          </span>
        )}
      </p>
    </section>
  );
}
