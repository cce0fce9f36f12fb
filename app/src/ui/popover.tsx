/** A small window by the button that opened it. Fetched when the first one is opened, or before, when there is time. */
import { clsx } from 'clsx';
import { Popover } from 'radix-ui';
import type { ReactElement, ReactNode } from 'react';

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
	return (
		<Popover.Root open={open} onOpenChange={onOpen}>
			<Popover.Trigger asChild>{trigger}</Popover.Trigger>
			<Popover.Portal>
				<Popover.Content
					aria-label={label}
					sideOffset={6}
					collisionPadding={8}
					align="start"
					onClick={(event) => {
						// What was asked for was chosen; a list to choose several from stays.
						if ((event.target as Element).closest('[data-chosen]')) onOpen(false);
					}}
					onCloseAutoFocus={(event) => {
						// What was chosen has taken the focus to where one goes on.
						if (
							document.activeElement &&
							!document.activeElement.matches('body, [data-radix-popper-content-wrapper] *')
						)
							event.preventDefault();
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
