export function Brand() {
  return (
    <span className="flex items-center gap-2 text-head font-semibold">
      <svg
        viewBox="0 0 24 24"
        className="size-5 text-jade"
        aria-hidden="true"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.800"
      >
        <path
          d="M5 20V8l2-2.500L9 8v12M15 20V8l2-2.500L19 8v12M2 11.500h8M14 11.500h8M2 16h8M14 16h8"
          strokeLinejoin="round"
        />
      </svg>
      Jade Fence
    </span>
  );
}
