/** Sets of limits as the fourth migration puts them in: what it did stays what it did, whatever core names later. */
export const fourthLimits: readonly { readonly name: string; readonly limits: object }[] = [
  {
    name: 'Exacting',
    limits: {
      formula: 'de2000',
      rules: [
        {
          metric: 'averageDeltaE',
          near: 0.7,
          hard: 1,
          reason: 'An average under 1 is not seen as a shift of the whole picture.',
        },
        {
          metric: 'percentile95DeltaE',
          near: 1.4,
          hard: 2,
          reason: 'Nineteen of twenty patches: a few single colours may be off, not a region of the gamut.',
        },
        {
          metric: 'worstDeltaE',
          near: 2,
          hard: 3,
          reason:
            'One colour off by 2 to 3 is seen when two displays stand side by side; a good average must not hide it.',
        },
        {
          metric: 'whiteDeltaUv',
          near: 0.002,
          hard: 0.004,
          reason: 'White fills most of a page; two whites 0.004 apart are seen as two whites.',
        },
        {
          metric: 'luminanceOff',
          near: 2,
          hard: 4,
          reason: 'Displays side by side that differ by 4 % in luminance are told apart.',
        },
        {
          metric: 'toneError',
          near: 0.8,
          hard: 1.5,
          reason: 'A step of L* 1 in the greys is about the least that is seen in a gradient.',
        },
        {
          metric: 'worstGreyChroma',
          near: 0.8,
          hard: 1.5,
          reason: 'Casts in greys are seen first, for nothing in a grey hides them.',
        },
      ],
      others: {
        de94: [
          {
            metric: 'averageDeltaE',
            near: 0.6,
            hard: 0.9,
            reason: 'What ΔE2000 of 0.7 and 1 come to by this formula, whose figures run 0.9 times as high here.',
          },
          {
            metric: 'percentile95DeltaE',
            near: 1.1,
            hard: 1.6,
            reason: 'What ΔE2000 of 1.4 and 2 come to by this formula, whose figures run 0.8 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 1.6,
            hard: 2.4,
            reason: 'What ΔE2000 of 2 and 3 come to by this formula, whose figures run 0.8 times as high here.',
          },
        ],
        de76: [
          {
            metric: 'averageDeltaE',
            near: 1,
            hard: 1.4,
            reason: 'What ΔE2000 of 0.7 and 1 come to by this formula, whose figures run 1.4 times as high here.',
          },
          {
            metric: 'percentile95DeltaE',
            near: 1.4,
            hard: 2,
            reason: 'What ΔE2000 of 1.4 and 2 come to by this formula, whose figures run 1 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 2,
            hard: 3,
            reason: 'What ΔE2000 of 2 and 3 come to by this formula, whose figures run 1 times as high here.',
          },
        ],
        deitp: [
          {
            metric: 'averageDeltaE',
            near: 1.9,
            hard: 2.7,
            reason: 'What ΔE2000 of 0.7 and 1 come to by this formula, whose figures run 2.7 times as high here.',
          },
          {
            metric: 'percentile95DeltaE',
            near: 2.4,
            hard: 3.4,
            reason: 'What ΔE2000 of 1.4 and 2 come to by this formula, whose figures run 1.7 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 3.4,
            hard: 5.1,
            reason: 'What ΔE2000 of 2 and 3 come to by this formula, whose figures run 1.7 times as high here.',
          },
        ],
      },
    },
  },
  {
    name: 'Working',
    limits: {
      formula: 'de2000',
      rules: [
        {
          metric: 'averageDeltaE',
          near: 1,
          hard: 1.5,
          reason: 'An average under 1 is what a good display holds for weeks; 1.5 leaves room for a month’s drift.',
        },
        {
          metric: 'worstDeltaE',
          near: 2.5,
          hard: 4,
          reason: 'Single saturated colours may lie at the rim of the gamut; beyond 4 a colour is simply another one.',
        },
        {
          metric: 'whiteDeltaUv',
          near: 0.003,
          hard: 0.006,
          reason: 'The eye adapts to one display’s white; beyond 0.006 the picture looks tinted all the same.',
        },
        {
          metric: 'luminanceOff',
          near: 5,
          hard: 10,
          reason: 'Luminance falls with age by some per cent a year; 10 % is seen as dim beside paper.',
        },
        {
          metric: 'toneError',
          near: 1.5,
          hard: 3,
          reason: 'Shadows that are 3 L* off open or close by a visible step.',
        },
        {
          metric: 'worstGreyChroma',
          near: 1.5,
          hard: 3,
          reason: 'A cast of 3 in one grey is seen in black and white pictures.',
        },
      ],
      others: {
        de94: [
          {
            metric: 'averageDeltaE',
            near: 0.9,
            hard: 1.4,
            reason: 'What ΔE2000 of 1 and 1.5 come to by this formula, whose figures run 0.9 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 2,
            hard: 3.2,
            reason: 'What ΔE2000 of 2.5 and 4 come to by this formula, whose figures run 0.8 times as high here.',
          },
        ],
        de76: [
          {
            metric: 'averageDeltaE',
            near: 1.4,
            hard: 2.1,
            reason: 'What ΔE2000 of 1 and 1.5 come to by this formula, whose figures run 1.4 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 2.5,
            hard: 4,
            reason: 'What ΔE2000 of 2.5 and 4 come to by this formula, whose figures run 1 times as high here.',
          },
        ],
        deitp: [
          {
            metric: 'averageDeltaE',
            near: 2.7,
            hard: 4.1,
            reason: 'What ΔE2000 of 1 and 1.5 come to by this formula, whose figures run 2.7 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 4.3,
            hard: 6.8,
            reason: 'What ΔE2000 of 2.5 and 4 come to by this formula, whose figures run 1.7 times as high here.',
          },
        ],
      },
    },
  },
  {
    name: 'Tolerant',
    limits: {
      formula: 'de2000',
      rules: [
        {
          metric: 'averageDeltaE',
          near: 2,
          hard: 3,
          reason: 'Up to 3 on average colours are recognised, and no decision is made by them.',
        },
        {
          metric: 'worstDeltaE',
          near: 5,
          hard: 8,
          reason: 'A gamut that is too small for the aim shows here first, and is known.',
        },
        {
          metric: 'whiteDeltaUv',
          near: 0.006,
          hard: 0.012,
          reason: 'White may be another than the neighbour’s, but must still look white.',
        },
        {
          metric: 'luminanceOff',
          near: 15,
          hard: 25,
          reason: 'Bright enough for the room is all that is asked.',
        },
      ],
      others: {
        de94: [
          {
            metric: 'averageDeltaE',
            near: 1.8,
            hard: 2.7,
            reason: 'What ΔE2000 of 2 and 3 come to by this formula, whose figures run 0.9 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 4,
            hard: 6.4,
            reason: 'What ΔE2000 of 5 and 8 come to by this formula, whose figures run 0.8 times as high here.',
          },
        ],
        de76: [
          {
            metric: 'averageDeltaE',
            near: 2.8,
            hard: 4.2,
            reason: 'What ΔE2000 of 2 and 3 come to by this formula, whose figures run 1.4 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 5,
            hard: 8,
            reason: 'What ΔE2000 of 5 and 8 come to by this formula, whose figures run 1 times as high here.',
          },
        ],
        deitp: [
          {
            metric: 'averageDeltaE',
            near: 5.4,
            hard: 8.1,
            reason: 'What ΔE2000 of 2 and 3 come to by this formula, whose figures run 2.7 times as high here.',
          },
          {
            metric: 'worstDeltaE',
            near: 8.5,
            hard: 13.6,
            reason: 'What ΔE2000 of 5 and 8 come to by this formula, whose figures run 1.7 times as high here.',
          },
        ],
      },
    },
  },
]
