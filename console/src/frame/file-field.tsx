interface FileFieldProps {
  readonly label: string;
  readonly hint?: string;
  readonly onChoose: (file: File) => void;
}

/** A file that is chosen. */
export function FileField({ label, hint, onChoose }: FileFieldProps) {
  return (
    <label className="block">
      <span className="font-medium">{label}</span> {hint && <span className="text-soft">{hint}</span>}
      <input
        type="file"
        className="mt-1 block cursor-pointer file:mr-3 file:cursor-pointer file:rounded-sm file:border file:border-edge file:bg-sheet file:px-3 file:py-1 file:font-medium"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onChoose(file);
        }}
      />
    </label>
  );
}
