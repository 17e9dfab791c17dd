import * as yup from 'yup'

/** Every message names the field and says what would be right. */
yup.setLocale({
  mixed: {
    required: ({ path }: { path: string }) => `“${path}” is missing; it is needed.`,
    defined: ({ path }: { path: string }) => `“${path}” is missing; it is needed.`,
    notNull: ({ path }: { path: string }) => `“${path}” must not be empty.`,
    notType: ({ path, type }: { path: string; type: string }) => `“${path}” must be ${article(type)}.`,
    oneOf: ({ path, values }: { path: string; values: string }) => `“${path}” must be one of: ${values}.`,
  },
  string: {
    min: ({ path, min }: { path: string; min: number }) => `“${path}” must have ${min} characters or more.`,
    max: ({ path, max }: { path: string; max: number }) => `“${path}” must have ${max} characters or fewer.`,
    length: ({ path, length }: { path: string; length: number }) => `“${path}” must have ${length} characters.`,
    uuid: ({ path }: { path: string }) => `“${path}” must be an identifier.`,
  },
  number: {
    min: ({ path, min }: { path: string; min: number }) => `“${path}” must be ${min} or more.`,
    max: ({ path, max }: { path: string; max: number }) => `“${path}” must be ${max} or less.`,
    moreThan: ({ path, more }: { path: string; more: number }) => `“${path}” must be above ${more}.`,
    lessThan: ({ path, less }: { path: string; less: number }) => `“${path}” must be below ${less}.`,
    integer: ({ path }: { path: string }) => `“${path}” must be a whole number.`,
  },
  array: {
    min: ({ path, min }: { path: string; min: number }) => `“${path}” needs ${min} entries or more.`,
    max: ({ path, max }: { path: string; max: number }) => `“${path}” takes ${max} entries at most.`,
    length: ({ path, length }: { path: string; length: number }) => `“${path}” needs exactly ${length} entries.`,
  },
  object: {
    noUnknown: ({ path, unknown }: { path: string; unknown: string[] }) =>
      `“${path || 'The message'}” holds fields that do not belong there: ${unknown}.`,
  },
})

const article = (type: string) =>
  ({ number: 'a number', string: 'text', boolean: 'true or false', array: 'a list', object: 'a group of fields' })[
    type
  ] ?? type

export { yup }
