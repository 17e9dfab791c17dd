/** The areas as the rail shows them, each with the key that follows “g”. */
export const areas = [
  { path: '/', label: 'Floor', key: 'f' },
  { path: '/register', label: 'Register', key: 'r' },
  { path: '/aims', label: 'Aims', key: 'a' },
  { path: '/runs', label: 'Runs', key: 'u' },
  { path: '/review', label: 'Review', key: 'v' },
  { path: '/drift', label: 'Drift', key: 't' },
  { path: '/rollout', label: 'Rollout', key: 'o' },
  { path: '/rounds', label: 'Rounds', key: 'd' },
] as const
