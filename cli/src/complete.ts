/** `frelk completion`: what a shell needs to complete the command's words, made from the command itself. */
import type { Command } from 'commander';
import { UsageError } from './files';

const SHELLS = ['bash', 'zsh', 'fish'] as const;

interface Word {
	name: string;
	about: string;
	/** Long names of its options, with what each is for. */
	options: { flag: string; about: string; takesValue: boolean }[];
}

const wordsOf = (program: Command): Word[] =>
	program.commands.map((command) => ({
		name: command.name(),
		about: command.description(),
		options: command.options.flatMap((o) =>
			o.long ? [{ flag: o.long, about: o.description, takesValue: o.required || o.optional }] : [],
		),
	}));

const quoted = (text: string): string => `'${text.replaceAll("'", "'\\''")}'`;

function bash(words: readonly Word[]): string {
	const cases = words.map(({ name, options }) => `\t\t${name}) words="${options.map((o) => o.flag).join(' ')}" ;;`);
	return `_frelk() {
	local now="\${COMP_WORDS[COMP_CWORD]}" words
	if [ "$COMP_CWORD" -eq 1 ]; then
		COMPREPLY=($(compgen -W "${words.map((w) => w.name).join(' ')} --help --version" -- "$now"))
		return
	fi
	case "\${COMP_WORDS[1]}" in
${cases.join('\n')}
	esac
	if [[ "$now" == -* ]]; then COMPREPLY=($(compgen -W "$words --help" -- "$now")); else COMPREPLY=($(compgen -f -- "$now")); fi
}
complete -o filenames -F _frelk frelk
`;
}

function zsh(words: readonly Word[]): string {
	const plain = (text: string) => text.replace(/[[\]:]/g, ' ');
	const commands = words.map((w) => `\t\t${quoted(`${w.name}:${plain(w.about)}`)}`);
	const cases = words.map(({ name, options }) => {
		const flags = options.map((o) => quoted(`${o.flag}[${plain(o.about)}]${o.takesValue ? ':value:_files' : ''}`));
		return `\t\t${name}) _arguments ${[...flags, "'*:file:_files'"].join(' ')} ;;`;
	});
	return `#compdef frelk
_frelk() {
	local -a commands
	commands=(
${commands.join('\n')}
	)
	if (( CURRENT == 2 )); then _describe 'command' commands; return; fi
	shift words
	(( CURRENT-- ))
	case "$words[1]" in
${cases.join('\n')}
	esac
}
compdef _frelk frelk
`;
}

function fish(words: readonly Word[]): string {
	const lines = words.flatMap(({ name, about, options }) => [
		`complete -c frelk -n __fish_use_subcommand -a ${name} -d ${quoted(about)}`,
		...options.map(
			(o) =>
				`complete -c frelk -n ${quoted(`__fish_seen_subcommand_from ${name}`)} -l ${o.flag.slice(2)}${o.takesValue ? ' -r' : ''} -d ${quoted(o.about)}`,
		),
	]);
	return `${lines.join('\n')}\n`;
}

/** @returns a script to be read by a shell. @throws UsageError for another shell */
export function completion(program: Command, shell: string): string {
	const words = wordsOf(program);
	switch (shell) {
		case 'bash':
			return bash(words);
		case 'zsh':
			return zsh(words);
		case 'fish':
			return fish(words);
		default:
			throw new UsageError(`completion is for one of ${SHELLS.join(', ')}`);
	}
}
