import { hashPassword, mustBeStrong, passwordFits } from './passwords'

describe('a stored password', () => {
  test('fits its own word and no other, and is never stored twice alike', async () => {
    const [one, two] = await Promise.all([hashPassword('sedge-and-lantern'), hashPassword('sedge-and-lantern')])
    expect(one).not.toBe(two)
    for (const encoded of [one, two]) {
      expect(await passwordFits(encoded, 'sedge-and-lantern')).toBe(true)
      for (const other of ['sedge-and-lanterN', 'sedge-and-lantern ', '', 'sedge-and-lanterne'])
        expect(await passwordFits(encoded, other)).toBe(false)
    }
  })

  test('tells by which method and how hard it was made (PHC string format)', async () => {
    const [, method, version, parameters, salt, digest] = (await hashPassword('x'.repeat(200))).split('$')
    expect([method, version]).toEqual(['argon2id', 'v=19'])
    const [m, t, p] = parameters.split(',').map((part) => Number(part.split('=')[1]))
    // What OWASP's Password Storage Cheat Sheet asks for at least.
    expect(m).toBeGreaterThanOrEqual(19456)
    expect(t).toBeGreaterThanOrEqual(2)
    expect(p).toBe(1)
    expect(Buffer.from(salt, 'base64').length).toBeGreaterThanOrEqual(16)
    expect(Buffer.from(digest, 'base64').length).toBeGreaterThanOrEqual(32)
  })

  test.each(['', 'plain text', '$argon2id$v=19$m=1$broken', '$2b$10$abcdefghijklmnopqrstuv'])(
    'that is none fits nothing and breaks nothing: %j',
    async (encoded) => {
      expect(await passwordFits(encoded, 'sedge-and-lantern')).toBe(false)
    },
  )

  test('holds letters of any script, each as it was typed', async () => {
    const encoded = await hashPassword('ø-fløyte-笛-🎶')
    expect(await passwordFits(encoded, 'ø-fløyte-笛-🎶')).toBe(true)
    expect(await passwordFits(encoded, 'o-floyte-笛-🎶')).toBe(false)
  })
})

describe('a new password', () => {
  const names = ['marit', 'Marit Oyen', 'Fen & Lantern']

  test.each([
    'password',
    'PassWord',
    'password123',
    'qwertyuiop',
    'letmein2026',
    'abcabcabcabc',
    'aaaaaaaaaaaa',
    'abababababab',
    'marit',
    'Marit Oyen',
    'maritmarit',
    'MARIT OYEN',
    'fen & lantern',
  ])('that others try first is refused: %s', (password) => {
    expect(() => mustBeStrong(password, names)).toThrow(expect.objectContaining({ field: 'password' }))
  })

  test.each([
    'sedge-and-lantern',
    'carry-the-puck',
    'seven grey herons wade',
    'Marit Oyen counts herons',
    '笛と灯りと葦原',
  ])('of one’s own is taken: %s', (password) => {
    expect(() => mustBeStrong(password, names)).not.toThrow()
  })
})
