/** A field that narrows what is shown below it; Escape empties it, and what is typed stays out of the keys of the page. */
export function SearchField(props: {
  label: string;
  placeholder: string;
  className: string;
  value: string;
  onChange(text: string): void;
  onEnter?(): void;
}) {
  const { label, placeholder, className, value, onChange, onEnter } = props;
  return (
    <input
      type="search"
      aria-label={label}
      placeholder={placeholder}
      className={`placeholder:text-ink-3 ${className}`}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') onChange('');
        if (event.key === 'Enter') onEnter?.();
      }}
    />
  );
}
