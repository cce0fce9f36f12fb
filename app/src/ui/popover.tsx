/** A small window by the button that opened it. Fetched when the first one is opened, or before, when there is time. */
import { clsx } from 'clsx';
import { Popover } from 'radix-ui';
import { type ReactElement, type ReactNode, useRef } from 'react';
import { isChanged } from './changed';

export default function OpenedPopover({
	trigger,
	label,
	children,
	wide,
	open,
	onOpen,
}: {
	trigger: ReactElement;
	label: string;
	children: ReactNode;
	wide?: boolean;
	open: boolean;
	onOpen: (open: boolean) => void;
}) {
	const chosen = useRef(false);
	return (
		<Popover.Root open={open} onOpenChange={onOpen}>
			<Popover.Trigger asChild>{trigger}</Popover.Trigger>
			<Popover.Portal>
				<Popover.Content
					aria-label={label}
					sideOffset={6}
					collisionPadding={8}
					align="start"
					onOpenAutoFocus={(event) => {
						const first = (event.currentTarget as HTMLElement).querySelector<HTMLInputElement>('input[data-first]');
						if (!first) return;
						event.preventDefault();
						first.focus();
						first.select();
					}}
					onEscapeKeyDown={(event) => {
						if (isChanged(document.activeElement)) event.preventDefault();
					}}
					onClick={(event) => {
						// What was asked for was chosen; a list to choose several from stays.
						if (!(event.target as Element).closest('[data-chosen]')) return;
						chosen.current = true;
						onOpen(false);
					}}
					onCloseAutoFocus={(event) => {
						// What was chosen takes the focus to where one goes on.
						if (chosen.current) event.preventDefault();
						chosen.current = false;
					}}
					className={clsx(
						'z-50 max-h-[70vh] overflow-auto rounded-[4px] border bg-panel p-3 shadow-lg',
						wide ? 'w-96' : 'w-72',
					)}
				>
					{children}
				</Popover.Content>
			</Popover.Portal>
		</Popover.Root>
	);
}
