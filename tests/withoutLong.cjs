// Leaves the long tests aside (names that end in “@long”), where each test runs hundreds of times: with seeded mistakes.
for (const name of ['test', 'it']) {
  const all = globalThis[name]
  const usual = (title) => (/@long$/.test(title) ? all.skip : all)
  globalThis[name] = Object.assign((title, ...rest) => usual(title)(title, ...rest), all, {
    each:
      (...table) =>
      (title, ...rest) =>
        usual(title).each(...table)(title, ...rest),
  })
}
