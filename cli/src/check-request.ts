/** What a worker of the server does with a project that was sent to be checked. */
export { checkBytes as default } from './check-text';
