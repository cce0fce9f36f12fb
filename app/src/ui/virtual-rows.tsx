/** A list of any length of which only the rows in sight are drawn. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { type ReactNode, useEffect, useRef } from 'react';

interface Rows<T> {
	items: readonly T[];
	keyOf: (item: T) => string;
	/** Usual height of a row, CSS pixels; what is drawn is measured. */
	height: number;
	label: string;
	/** Of what scrolls: it needs a height. */
	className: string;
	children: (item: T) => ReactNode;
	/** A list one chooses from by the arrow keys of a field elsewhere: its id, and the place of what would be chosen. */
	choice?: { id: string; active: number };
}

export const optionId = (list: string, place: number): string => `${list}-${place}`;

export function VirtualRows<T>({ items, keyOf, height, label, className, children, choice }: Rows<T>) {
	const scroller = useRef<HTMLDivElement>(null);
	const rows = useVirtualizer({
		count: items.length,
		getScrollElement: () => scroller.current,
		estimateSize: () => height,
		getItemKey: (place) => keyOf(items[place] as T),
		overscan: 8,
	});
	const active = choice?.active;
	useEffect(() => {
		if (active !== undefined && active >= 0) rows.scrollToIndex(active);
	}, [active, rows]);
	return (
		<div ref={scroller} className={`overflow-auto ${className}`}>
			<ul
				id={choice?.id}
				role={choice ? 'listbox' : undefined}
				aria-label={label}
				className="relative"
				style={{ height: rows.getTotalSize() }}
			>
				{rows.getVirtualItems().map(({ index, key, start }) => (
					<li
						key={key}
						ref={rows.measureElement}
						data-index={index}
						id={choice && optionId(choice.id, index)}
						role={choice ? 'option' : undefined}
						aria-selected={choice ? index === choice.active : undefined}
						aria-setsize={items.length}
						aria-posinset={index + 1}
						className="absolute inset-x-0"
						style={{ transform: `translateY(${start}px)` }}
					>
						{children(items[index] as T)}
					</li>
				))}
			</ul>
		</div>
	);
}
