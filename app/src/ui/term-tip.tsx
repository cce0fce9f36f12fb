/** What a word means, beside it. Fetched when the first one is asked for. */
import { createPortal } from 'react-dom';
import { meaningOf } from './terms';

const WIDTH = 264;

export default function TermTip({ word, at }: { word: string; at: DOMRect }) {
	const left = Math.max(8, Math.min(at.left, window.innerWidth - WIDTH - 8));
	const below = at.bottom + 110 < window.innerHeight;
	return createPortal(
		<p
			role="status"
			className="pointer-events-none fixed z-[60] rounded-[4px] border border-ink/60 bg-panel px-3 py-2 text-[12.5px] font-normal text-ink shadow-lg"
			style={{ width: WIDTH, left, ...(below ? { top: at.bottom + 6 } : { bottom: window.innerHeight - at.top + 6 }) }}
		>
			<strong>{word}</strong> – {meaningOf(word)}
		</p>,
		document.body,
	);
}
