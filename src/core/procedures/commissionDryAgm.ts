import type { Procedure } from './procedure.ts';

/** First commissioning of a dry-charged AGM battery from its tube pack, box to handover. */
export const COMMISSION_DRY_AGM: Procedure = {
  id: 'commission-agm-dry',
  version: 1,
  name: 'Commission, dry-charged AGM',
  steps: [
    {
      id: 'identify', kind: 'checks', segment: 'hands', handsS: 180, act: 'Check',
      title: 'Look the battery over',
      detail: 'On a level surface, out of the machine. The label must say {model}.',
      checks: [
        { id: 'label', text: 'The label says {model}, {volts} V', answers: ['It does', 'It does not'], refusal: 'This is not the battery the job was opened for. Nothing on this plan fits it.' },
        { id: 'case', text: 'Case whole: no crack, bulge or dent', answers: ['Whole', 'Damaged'], refusal: 'A damaged case is never filled or charged: it leaks acid, or bursts. Set it aside as a claim.' },
        { id: 'posts', text: 'Posts straight and tight', answers: ['Tight', 'Loose'], refusal: 'A loose post leaks and sparks. Set it aside as a claim.' },
      ],
    },
    {
      id: 'foil', kind: 'checks', segment: 'hands', handsS: 60, act: 'Check',
      title: 'Check the foil over the ports',
      detail: 'Every port sealed. Under broken foil the plates have met air and may have oxidised; acid would not bring them back.',
      checks: [{ id: 'foil', text: 'Foil whole over every port', answers: ['Whole', 'Broken'], refusal: 'Broken foil: the plates may have oxidised. Do not commission it. Set it aside as a claim.' }],
    },
    {
      id: 'pack', kind: 'pack', segment: 'hands', handsS: 60, act: 'Match',
      title: 'Match the electrolyte pack',
      detail: 'The code on the pack must be {code}, letter for letter. Another code is another quantity: too little dries the mats, too much drowns them.',
    },
    {
      id: 'safe', kind: 'acknowledge', segment: 'hands', handsS: 120, act: 'Ready',
      title: 'Make the place safe',
      detail: 'Once for this job, before the foil comes off.',
      hazards: ['acid', 'hydrogen', 'shorts', 'maker'],
    },
    {
      id: 'fill', kind: 'do', segment: 'fill', handsS: 300, act: 'Filled',
      title: 'Fill {fillMl} from the pack',
      detail: "Peel the foil off the ports. Take the cap strip off the pack and keep it: it becomes the battery's. Do not peel or pierce the tubes' seals. Stand the pack level over the ports and push straight down, all at once. Gravity does the rest: never tilt, squeeze or cut. The clock of the stand starts when you say it is on.",
      hazards: ['acid'],
      temperature: { label: 'Battery and pack', range: [16, 30], outside: 'Acid and battery belong between 16 and 30 °C: colder fills late, warmer gasses.' },
    },
    {
      id: 'bubbles', kind: 'ports', segment: 'fill', handsS: 120, act: 'Check',
      title: 'Bubbles from every tube?',
      detail: 'Air must rise in all {cells} tubes. No bubbles from one? {tubeHelp}',
      question: 'Tap a port to change it',
      answers: [
        { id: 'bubbling', label: 'Bubbling', good: true },
        { id: 'tapped', label: 'Tapped', good: true },
        { id: 'still', label: 'Still', good: false },
      ],
      hold: 'A tube stands still: its cell would stay short of acid. {tubeHelp}',
    },
    {
      id: 'dwell', kind: 'wait', segment: 'dwell', figure: 'dwellS', since: 'fill', act: 'Go on',
      title: 'Leave the pack on',
      detail: 'The mats drink slower than the tubes empty.',
      early: 'The pack is still emptying; a cell left short fails first.',
      skippable: true,
    },
    {
      id: 'lift', kind: 'ports', segment: 'fill', handsS: 180, act: 'Check',
      title: 'Every tube empty? Lift the pack',
      detail: 'Look through each tube. All empty: lift the pack straight off, then {strip}',
      question: 'Tap a port to change it',
      answers: [
        { id: 'empty', label: 'Empty', good: true },
        { id: 'left', label: 'Acid left', good: false },
      ],
      hold: 'A tube still holds acid. Leave the pack on, {tubeHelp}',
    },
    {
      id: 'soak', kind: 'wait', segment: 'soak', figure: 'soakS', act: 'Go on',
      title: 'Let it soak',
      detail: 'The mats are still drinking; charging now shortens its life. It stands at about 80 % and is not ready to sell.',
      early: 'The mats are still drinking; charging now shortens its life.',
      skippable: true,
    },
    {
      id: 'charge', kind: 'charge', segment: 'charge', act: 'Charge',
      title: 'Initial charge at {chargeA}',
      detail: 'Charger with an AGM setting, off while you connect: positive first, then negative, then mains. {strip} No automotive boost. Volts, amps and warmth every hour.',
      hazards: ['hydrogen', 'heat', 'pressure'],
    },
    {
      id: 'clear', kind: 'wait', segment: 'rest', figure: 'clearS', act: 'Unclip',
      title: 'Charger off, let the gas clear',
      detail: 'Mains off first. Wait before the clips come off; positive last on the bench.',
      early: 'Hydrogen is still over the ports; a clip makes a spark.',
      hazards: ['hydrogen'],
    },
    {
      id: 'close', kind: 'do', segment: 'hands', handsS: 300, act: 'Closed', once: true,
      title: 'Press the cap strip flush',
      detail: 'Both hands, even pressure, flush along its length. Never hammered, never opened again. Wash the outside with bicarbonate and dry it.',
    },
    {
      id: 'rest', kind: 'wait', segment: 'rest', figure: 'restS', act: 'Measure',
      title: 'Rest with the leads off',
      detail: 'A voltage read now still carries surface charge: it flatters.',
      early: 'The voltage still carries surface charge. A reading taken now is kept and marked, and cannot be judged.',
      skippable: true,
    },
    {
      id: 'ocv', kind: 'measure', segment: 'test', handsS: 120, act: 'Measure', skippable: true,
      title: 'Measure the rest voltage',
      detail: 'Nothing connected but the meter. Pass line {passV}.',
    },
    {
      id: 'load', kind: 'load', segment: 'test', handsS: 300, act: 'Test', skippable: true,
      title: 'Load test at {loadA} for {loadS}',
      detail: 'Read the volts at the end of the {loadS}, load still on. The least that passes depends on the temperature.',
      hazards: ['shorts'],
    },
    { id: 'verdict', kind: 'verdict', segment: 'test', handsS: 60, act: 'Decide', title: 'Verdict', detail: 'What the readings say, and why.', repeatFrom: 'charge', maxAttempts: 2 },
    {
      id: 'handover', kind: 'handover', segment: 'hands', handsS: 300, act: 'Hand over',
      title: 'Tag it and hand it over',
      detail: 'Sheet printed, date tag on. In a machine negative goes off first and on last. Every accessory lead back on its post, snug plus a quarter turn and no more: posts tear out. Terminals greased.',
    },
  ],
};

export const PROCEDURES: Readonly<Record<string, Procedure>> = { [COMMISSION_DRY_AGM.id]: COMMISSION_DRY_AGM };
