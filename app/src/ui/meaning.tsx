/** What a word means, in small letters below it. */
import { meaningOf } from './terms';

export default function Meaning({ word }: { word: string }) {
	return <p className="mt-2 border-t pt-1 text-[12px] text-quiet">{meaningOf(word)}</p>;
}
