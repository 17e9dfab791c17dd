/** What Node is told to run a thread's program, by its URL: a source is stripped of its types as it is loaded. */
export const threadArgs = (program: string): string[] => (program.endsWith('.ts') ? ['--import', 'tsx'] : [])
