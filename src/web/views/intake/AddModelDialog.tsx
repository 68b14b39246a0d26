import { type FormEvent, useState } from 'react';
import type { AddModel } from '../../../contract/asks.ts';
import type { Problem } from '../../../contract/wire.ts';
import { addModelSchema } from '../../../contract/schemas.ts';
import { BUILDS, usualBuild } from '../../../core/batteries/builds.ts';
import { type BatteryKind, KINDS, kindOf, type Fill } from '../../../core/batteries/kinds.ts';
import {
  type BatteryModel,
  BUILD_KEYS,
  type BuildKey,
  type Caps,
  CCA_STANDARDS,
  type CcaStandard,
  modelFaults,
} from '../../../core/batteries/model.ts';
import { sayIn } from '../../../core/quantities/shopUnits.ts';
import { parseReading } from '../../../core/quantities/parseReading.ts';
import { ProblemError, ask } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useRules } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { Labelled } from '../../parts/Labelled.tsx';

type NumberField =
  | 'c20Ah'
  | 'c10Ah'
  | 'reserveMin'
  | 'cca'
  | 'milliohm'
  | 'electrolyteMl'
  | 'fillSg'
  | 'chargeA'
  | 'ceilingV'
  | 'dwellS'
  | 'soakS'
  | 'passV';

/** Numbers a maker prints. `scale` turns what is typed into the stored unit; `fills` names the fills they belong to, where not to all. */
const NUMBERS: readonly {
  field: NumberField;
  label: string;
  scale?: number;
  must?: boolean;
  fills?: readonly Fill[];
}[] = [
  { field: 'c20Ah', label: 'C20, Ah', must: true },
  { field: 'c10Ah', label: 'C10, Ah' },
  { field: 'reserveMin', label: 'Reserve, min at 25 A' },
  { field: 'electrolyteMl', label: 'Electrolyte in all', fills: ['tubes', 'bulk'] },
  { field: 'fillSg', label: 'SG of its acid, 25 °C' },
  { field: 'cca', label: 'CCA, A' },
  { field: 'milliohm', label: 'Resistance full, mΩ' },
  { field: 'chargeA', label: 'Charge current, A' },
  { field: 'ceilingV', label: 'Charge ceiling, V' },
  { field: 'dwellS', label: 'Pack stays on, min', scale: 60, fills: ['tubes'] },
  { field: 'soakS', label: 'Soak, min', scale: 60, fills: ['tubes'] },
  { field: 'passV', label: 'Pass voltage, V' },
];

const isServiceable = (kind: BatteryKind) => 'ports' in kind && kind.ports === 'serviceable';

interface Props {
  onClose: () => void;
  onAdded: (id: string) => void;
}

/** Adds a model as its maker prints it. What the maker leaves out is left empty and the house decides. */
export function AddModelDialog({ onClose, onAdded }: Props) {
  const { sign } = useSigning();
  const rules = useRules();
  const [commandId, setCommandId] = useState(newId);
  const [texts, setTexts] = useState<Record<string, string>>({
    kind: 'agm-dry',
    nominalV: '12',
    ccaStandard: '',
    caps: 'screw',
  });
  const [faults, setFaults] = useState<Record<string, string>>({});
  const kind = kindOf(texts['kind'] ?? 'agm-dry');
  const fill = 'refusal' in kind ? null : kind.fill;
  const serviceable = isServiceable(kind);
  const shown = NUMBERS.filter((n) => !n.fills || n.fills.includes(fill));
  const text = (field: string) => (texts[field] ?? '').trim();
  const set = (field: string) => (e: { target: { value: string } }) => {
    setTexts((old) => ({ ...old, [field]: e.target.value }));
    setFaults((old) => ({ ...old, [field]: '' }));
  };

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    // The dialog stands in the intake form's tree; its own submit must not reach that form.
    event.stopPropagation();
    const found: Record<string, string> = {};
    const number = (field: NumberField, scale = 1): number | null => {
      if (text(field) === '') return null;
      const quantity =
        field === 'fillSg' ? 'specificGravity' : field === 'electrolyteMl' ? 'volume' : null;
      if (quantity) {
        const parsed = parseReading(text(field), quantity, rules);
        if (!parsed.ok) found[field] = parsed.message;
        return parsed.ok ? parsed.value : null;
      }
      const value = Number(text(field).replace(',', '.'));
      if (Number.isNaN(value)) found[field] = `“${text(field)}” is not a number.`;
      return value * scale;
    };
    const printed = Object.fromEntries(
      NUMBERS.map((n) => [n.field, shown.includes(n) ? number(n.field, n.scale) : null]),
    ) as Record<NumberField, number | null>;
    const nominalV = Number(text('nominalV'));
    const model = {
      code: text('code'),
      kind: text('kind'),
      name: text('name'),
      nominalV,
      cells: nominalV / 2,
      electrolyteCode: fill === 'tubes' ? text('electrolyteCode') || null : null,
      caps: serviceable ? (text('caps') as Caps) : null,
      ccaStandard: (text('ccaStandard') || null) as CcaStandard | null,
      build: (text('build') || null) as BuildKey | null,
      ...printed,
    } as BatteryModel;
    const by = await sign();
    if (!by) return;
    const body: AddModel = { commandId, by, model };
    const { error } = addModelSchema.validate(body, { abortEarly: false });
    for (const d of error?.details ?? []) found[String(d.path.at(-1))] ??= sayIn(d.message, rules);
    if (Object.keys(found).length === 0)
      for (const f of modelFaults(model)) found[f.field] = f.message;
    setFaults(found);
    if (Object.keys(found).length > 0) return;
    try {
      const added = await ask('addModel', { body });
      await queryClient.invalidateQueries({ queryKey: ['models'] });
      onAdded(added.id);
    } catch (problem) {
      setCommandId(newId());
      const fields: Problem['fields'] =
        problem instanceof ProblemError ? problem.problem.fields : {};
      setFaults(Object.keys(fields).length > 0 ? fields : { root: (problem as Error).message });
    }
  };

  const guessed =
    BUILDS[
      usualBuild({
        kind: kind.key,
        c20Ah: Number(text('c20Ah').replace(',', '.')) || 12,
        cca: text('cca') ? 1 : null,
      })
    ];
  const input = (field: string, label: string, placeholder = '') => (
    <Labelled key={field} label={label} message={faults[field]}>
      <input
        className="field"
        autoComplete="off"
        placeholder={placeholder}
        value={texts[field] ?? ''}
        onChange={set(field)}
        aria-invalid={!!faults[field]}
      />
    </Labelled>
  );
  return (
    <OpenDialog
      onClose={onClose}
      title="Add a model"
      description="As the maker prints it. Leave empty what is not printed: the house rules fill it in and say so."
      width="max-w-[52rem]"
    >
      <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-3">
        <div className="grid gap-3 sm:grid-cols-3">
          <Labelled label="Kind">
            <select className="field" value={texts['kind']} onChange={set('kind')}>
              {KINDS.map((k) => (
                <option key={k.key} value={k.key}>
                  {k.name}
                </option>
              ))}
            </select>
          </Labelled>
          <Labelled label="Volts and cells">
            <select className="field" value={texts['nominalV']} onChange={set('nominalV')}>
              <option value="12">12 V, 6 cells</option>
              <option value="6">6 V, 3 cells</option>
            </select>
          </Labelled>
          {input('code', 'Model code', 'LF-A12')}
        </div>
        {'refusal' in kind ? (
          <p
            role="alert"
            className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-3 text-lg"
          >
            <b>Refused. </b>
            {kind.refusal}
          </p>
        ) : (
          <>
            <div className="grid gap-3 sm:grid-cols-3">
              {input('name', 'Name', 'Groomer 12')}
              {fill === 'tubes' && input('electrolyteCode', 'Electrolyte pack code', 'KE-66')}
              {serviceable && (
                <Labelled label="Caps" message={faults['caps']}>
                  <select className="field" value={texts['caps']} onChange={set('caps')}>
                    <option value="screw">Screw caps</option>
                    <option value="pull">Pull caps</option>
                  </select>
                </Labelled>
              )}
              <Labelled label="CCA standard" message={faults['ccaStandard']}>
                <select
                  className="field"
                  value={texts['ccaStandard']}
                  onChange={set('ccaStandard')}
                >
                  <option value="">Not printed</option>
                  {CCA_STANDARDS.map((s) => (
                    <option key={s}>{s}</option>
                  ))}
                </select>
              </Labelled>
            </div>
            <Labelled label="Built for" message={faults['build']}>
              <select className="field" value={texts['build'] ?? ''} onChange={set('build')}>
                <option value="">{`Usual for its size and label: ${guessed.name.toLowerCase()}`}</option>
                {BUILD_KEYS.map((key) => (
                  <option key={key} value={key}>
                    {BUILDS[key].name}
                  </option>
                ))}
              </select>
              <span className="mt-1 block text-[15px] text-soft">
                {(BUILDS[texts['build'] as BuildKey] ?? guessed).told}
              </span>
            </Labelled>
            <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
              {shown.map(({ field, label, must }) =>
                input(
                  field,
                  field === 'electrolyteMl'
                    ? `${label}, ${rules.volumeUnit === 'oz' ? 'fl oz' : 'mL'}`
                    : sayIn(label, rules),
                  must || (field === 'electrolyteMl' && fill === 'tubes') ? '' : 'not printed',
                ),
              )}
            </div>
          </>
        )}
        {(faults['root'] || faults['by']) && (
          <p role="alert" className="text-oxide">
            {faults['root'] || faults['by']}
          </p>
        )}
        <div className="mt-1 flex justify-end gap-3">
          <DialogBack />
          <button type="submit" className="act" disabled={'refusal' in kind}>
            Add to the catalogue
          </button>
        </div>
      </form>
    </OpenDialog>
  );
}
