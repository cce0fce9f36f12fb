/** The guide, in the application: what a stranger needs to get from a scene to a check on the build server. */
import { Link } from 'react-router';
import { ThemeSwitch } from '../../ui/theme-switch';
import { CHAPTERS } from './chapters';

export function Guide() {
	return (
		<div className="min-h-screen">
			<header className="flex h-10 items-center gap-3 border-b bg-panel px-6">
				<Link to="/" className="font-semibold">
					Frelk
				</Link>
				<span className="text-quiet">Guide</span>
				<span className="ml-auto">
					<ThemeSwitch />
				</span>
			</header>
			<main className="mx-auto grid max-w-5xl grid-cols-[13rem_minmax(0,1fr)] gap-8 px-6 py-6">
				<nav aria-label="Chapters" className="sticky top-6 self-start">
					<ol className="space-y-1">
						{CHAPTERS.map((c) => (
							<li key={c.id}>
								<a href={`#${c.id}`} className="hover:underline">
									{c.title}
								</a>
							</li>
						))}
					</ol>
				</nav>
				<article className="max-w-[42rem] text-[14px] leading-relaxed">
					<h1 className="mb-4 text-[20px] font-semibold">Guide</h1>
					{CHAPTERS.map((c) => (
						<section key={c.id} id={c.id} className="mb-8">
							<h2 className="mb-2 text-[16px] font-semibold">{c.title}</h2>
							{c.parts.map((part) =>
								part.code ? (
									<pre
										key={part.text}
										tabIndex={0}
										className="figure mb-3 overflow-auto border bg-panel p-3 text-[12.5px]"
									>
										{part.text}
									</pre>
								) : (
									<p key={part.text} className="mb-3">
										{part.text}
									</p>
								),
							)}
						</section>
					))}
				</article>
			</main>
		</div>
	);
}
