import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { typeInto } from './typeInto.ts';
import { addressOfWords, findBatteriesQuery, meansTag } from '../line/openTag.ts';

const PLACES = [
  { to: '/', name: 'Bench' },
  { to: '/intake', name: 'Take a battery in' },
  { to: '/plan', name: 'Day plan' },
  { to: '/chargers', name: 'Chargers' },
  { to: '/shelf', name: 'Shelf' },
  { to: '/wet-room', name: 'Wet room' },
  { to: '/rehearsal', name: 'Rehearsal' },
  { to: '/records', name: 'Records' },
  { to: '/records/claims', name: 'Claims' },
  { to: '/records/failures', name: 'What fails' },
  { to: '/records/promises', name: 'Promises kept' },
  { to: '/records/services', name: 'Services due' },
  { to: '/records/recoveries', name: 'Results of recoveries' },
  { to: '/guide', name: 'Field guide' },
  { to: '/drill', name: 'Drill' },
  { to: '/rules', name: 'House rules' },
];

/** What was typed after `/` before the search itself had come. */
export interface EarlyWords {
  words: string;
  entered: boolean;
}

/** Finds any battery by tag, owner or model, and any place in the application. */
export function Find({
  takeEarly,
  onClose,
}: {
  takeEarly: () => EarlyWords | null;
  onClose: () => void;
}) {
  const navigate = useNavigate();
  const [words, setWords] = useState('');
  const { data } = useQuery({
    ...findBatteriesQuery(words.trim(), 8),
    placeholderData: (old) => old,
  });
  const go = (to: string) => {
    onClose();
    void navigate(to);
  };
  const field = useRef<HTMLInputElement>(null);
  /** As the field gets the keys: what was typed until then goes into it, before the next one. */
  const begin = () => {
    const early = takeEarly();
    if (!early) return;
    if (field.current) typeInto(field.current, early.words);
    if (early.entered) void addressOfWords(early.words).then((to) => to && go(to));
  };
  const places = PLACES.filter((p) => p.name.toLowerCase().includes(words.toLowerCase()));
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          onOpenAutoFocus={begin}
          aria-describedby={undefined}
          className="fixed top-[12vh] left-1/2 z-50 w-[min(94vw,36rem)] -translate-x-1/2 overflow-hidden rounded-lg border border-ink bg-sheet"
        >
          <Dialog.Title className="sr-only">Find</Dialog.Title>
          <Command shouldFilter={false} label="Find a battery or a place">
            <Command.Input
              ref={field}
              value={words}
              onValueChange={setWords}
              onKeyDown={(event) => {
                // A tag that was typed whole is meant, whatever the list happens to show.
                if (event.key !== 'Enter' || !meansTag(words)) return;
                event.preventDefault();
                event.stopPropagation();
                void addressOfWords(words).then((to) => to && go(to));
              }}
              placeholder="Tag, owner, model or place"
              className="w-full border-b border-line bg-transparent px-5 py-4 text-xl"
            />
            <Command.List className="max-h-[55vh] overflow-y-auto p-2">
              {data?.batteries.map((b) => (
                <Command.Item
                  key={b.id}
                  value={b.tag}
                  onSelect={() => go(`/batteries/${b.tag}`)}
                  className={ITEM}
                >
                  <b className="w-24 font-label text-xl">{b.tag}</b>
                  <span className="flex-1 truncate">{b.owner}</span>
                  <span className="label">{b.modelCode}</span>
                </Command.Item>
              ))}
              {places.map((p) => (
                <Command.Item key={p.to} value={p.to} onSelect={() => go(p.to)} className={ITEM}>
                  <span className="label w-24">Go to</span>
                  <span>{p.name}</span>
                </Command.Item>
              ))}
              {data?.batteries.length === 0 && places.length === 0 && (
                <p className="p-4 text-lg text-soft">Nothing on record matches.</p>
              )}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const ITEM =
  'flex min-h-12 cursor-pointer items-center gap-3 rounded-md px-3 data-[selected=true]:bg-hair';
