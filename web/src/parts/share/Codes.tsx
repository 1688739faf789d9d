const forms = { png: "PNG", svg: "SVG", pdf: "PDF" };

/** The code of an address, seen and as files. */
export function Codes({ address, name }: { address: string; name: string }) {
  return (
    <div className="mt-2 flex items-center gap-4">
      <img
        src={`/api/code?${new URLSearchParams({ address })}`}
        alt="The code of this address"
        className="size-20 border border-line"
      />
      <span>
        Its code as{" "}
        {Object.entries(forms).map(([as, said], i) => (
          <span key={as}>
            {i > 0 && ", "}
            <a
              href={`/api/code?${new URLSearchParams({ address, name, as })}`}
              download
              className="text-action underline"
            >
              {said}
            </a>
          </span>
        ))}
      </span>
    </div>
  );
}
