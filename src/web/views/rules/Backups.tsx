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
    <section aria-label="Backups" className="grid max-w-3xl gap-3 text-lg leading-tight">
      <p className="font-semibold">
        {backupAt === null
          ? 'No backup yet.'
          : `Last backup ${formatStamp(backupAt, wall)}, opened and found whole.`}
      </p>
      <p>A shop makes one each day beside its data and keeps fourteen.</p>
      <p>
        Keep one elsewhere too:
        <code className="mt-1 block text-sm sm:text-base">npm run backup -- --shop --to FILE</code>
      </p>
      <p>
        Put one back:
        <code className="mt-1 block text-sm sm:text-base">
          npm run restore -- --shop --from FILE
        </code>
      </p>
      <p className="text-soft">
        {(freeBytes / 1e9).toFixed(1)} GB are free on its disk.{' '}
        {pictures &&
          `${pictures.count === 1 ? '1 picture takes' : `${pictures.count} pictures take`} ${(pictures.bytes / 1e6).toFixed(1)} MB of ${(pictures.roomBytes / 1e9).toFixed(0)} GB.`}
      </p>
    </section>
  );
}
