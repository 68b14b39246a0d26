/** A line that says why; it is kept with what it explains. */
export function WhyField({
  label = 'Reason',
  value,
  className = '',
  onChange,
}: {
  label?: string;
  value: string;
  className?: string;
  onChange: (why: string) => void;
}) {
  return (
    <label className={className}>
      <span className="label">{label}</span>
      <input
        className="field"
        value={value}
        maxLength={500}
        onChange={(e) => onChange(e.target.value)}
      />
    </label>
  );
}
