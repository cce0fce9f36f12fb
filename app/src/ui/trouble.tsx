import { Link } from 'react-router';

/** A page that says what happened and how to go on. */
export function Trouble({ title, lines, children }: { title: string; lines: string[]; children?: React.ReactNode }) {
	return (
		<main className="mx-auto flex min-h-screen max-w-2xl flex-col justify-center gap-4 p-8">
			<title>{`${title} · Frelk`}</title>
			<h1 className="text-xl font-semibold">{title}</h1>
			{lines.length > 0 && (
				<ul className="max-h-96 space-y-1 overflow-auto border-l-2 border-cut pl-4">
					{lines.map((line) => (
						<li key={line} className="figure break-words">
							{line}
						</li>
					))}
				</ul>
			)}
			{children}
			<p>
				<Link to="/" className="underline underline-offset-2">
					Go to all projects
				</Link>
			</p>
		</main>
	);
}
