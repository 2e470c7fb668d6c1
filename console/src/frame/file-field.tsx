interface FileFieldProps {
  readonly label: string;
  readonly hint?: string;
  /** Called with the first file, and all of them where several may be chosen. */
  readonly onChoose: (file: File, all: readonly File[]) => void;
  /** Whether several may be chosen. Default false. */
  readonly many?: boolean;
  /** The endings of names that are offered. Default: all. */
  readonly accept?: string;
}

/** A file that is chosen. */
export function FileField({ label, hint, onChoose, many = false, accept }: FileFieldProps) {
  return (
    <label className="block">
      <span className="font-medium">{label}</span> {hint && <span className="text-soft">{hint}</span>}
      <input
        type="file"
        multiple={many}
        accept={accept}
        className="mt-1 block cursor-pointer file:mr-3 file:cursor-pointer file:rounded-sm file:border file:border-edge file:bg-sheet file:px-3 file:py-1 file:font-medium"
        onChange={(event) => {
          const all = [...(event.target.files ?? [])];
          if (all[0]) onChoose(all[0], all);
        }}
      />
    </label>
  );
}
