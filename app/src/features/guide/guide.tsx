/** The guide: the very text of docs/guide, with its pictures, and links that open the examples where it speaks of them. */
import { Marked } from 'marked';
import { Link, useNavigate } from 'react-router';
import checks from '../../../../docs/guide/checks.md?raw';
import editor from '../../../../docs/guide/editor.md?raw';
import levels from '../../../../docs/guide/levels.md?raw';
import places from '../../../../docs/guide/own-places.md?raw';
import guide from '../../../../docs/guide/README.md?raw';
import why from '../../../../docs/guide/why.md?raw';
import words from '../../../../docs/guide/words.md?raw';
import { ThemeSwitch } from '../../ui/theme-switch';

const pictures = import.meta.glob<string>('../../../../docs/screenshots/*.png', {
	eager: true,
	query: '?url',
	import: 'default',
});
const pictureOf = (href: string): string =>
	Object.entries(pictures).find(([path]) => path.endsWith(`/${href.split('/').at(-1)}`))?.[1] ?? href;

/** The anchor of a heading, as the pages in docs link to it. */
const anchorOf = (text: string): string =>
	text
		.toLowerCase()
		.replace(/[^a-z0-9 -]/g, '')
		.replace(/ /g, '-');

/** Pages of the guide are one page here: where each begins. */
const PAGES: Record<string, string> = {
	'checks.md': '#from-a-question-to-a-check-on-your-build-server',
	'why.md': '#why-not-this-one',
	'levels.md': '#levels-in-answers-out',
	'own-places.md': '#where-the-work-is-kept',
	'editor.md': '#in-the-editor',
	'words.md': '#words',
};

const chapters: { id: string; title: string }[] = [];

const marked = new Marked({
	renderer: {
		heading({ tokens, depth, text }) {
			const id = anchorOf(text);
			if (depth === 2 || (depth === 1 && chapters.length > 0)) chapters.push({ id, title: text });
			const level = depth === 1 ? 2 : depth;
			return `<h${level} id="${id}">${this.parser.parseInline(tokens)}</h${level}>`;
		},
		link({ href, tokens }) {
			const to = PAGES[href.split('#')[0] ?? ''] ?? href;
			return `<a href="${to}">${this.parser.parseInline(tokens)}</a>`;
		},
		image({ href, text }) {
			return `<img src="${pictureOf(href)}" alt="${text}" loading="lazy" />`;
		},
		code({ text }) {
			return `<pre tabindex="0">${text.replace(/&/g, '&amp;').replace(/</g, '&lt;')}</pre>`;
		},
	},
});

/** All pages, without the title of the first and its list of chapters, which stands at the side. */
const html = (() => {
	const [, ...parts] = guide.split(/^(?=## )/m);
	return (
		(marked.parse(parts.join('')) as string) +
		[checks, why, levels, places, editor, words].map((page) => marked.parse(page) as string).join('')
	);
})();

export function Guide() {
	const navigate = useNavigate();
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
			<main className="mx-auto grid max-w-5xl grid-cols-[13rem_minmax(0,1fr)] gap-8 px-6 py-6 max-[760px]:grid-cols-1">
				<nav aria-label="Chapters" className="sticky top-6 self-start max-[760px]:static">
					<ol className="space-y-1">
						{chapters.map((c) => (
							<li key={c.id}>
								<a href={`#${c.id}`} className="inline-block min-h-6 py-1 hover:underline">
									{c.title}
								</a>
							</li>
						))}
					</ol>
				</nav>
				<div className="max-w-[44rem]">
					<h1 className="mb-4 text-[20px] font-semibold">Guide</h1>
					{/* biome-ignore lint/a11y/useKeyWithClickEvents: a link is followed by Enter as by a click */}
					<article
						className="guide"
						onClick={(event) => {
							const to = (event.target as Element).closest('a')?.getAttribute('href');
							if (!to?.startsWith('/')) return;
							event.preventDefault();
							void navigate(to);
						}}
						// biome-ignore lint/security/noDangerouslySetInnerHtml: the text of docs/guide, put in when this was built
						dangerouslySetInnerHTML={{ __html: html }}
					/>
				</div>
			</main>
		</div>
	);
}
