/** A line of an editor. */
export const Row = ({ children }: { children: React.ReactNode }) => (
	<div className="mb-2 flex flex-wrap items-center gap-2">{children}</div>
);
