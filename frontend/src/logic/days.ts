/** How a day is kept. */
export const ISO = 'YYYY-MM-DD'
/** How a day is shown everywhere. */
export const SHOWN = 'D MMM YYYY'
/** How else a day may be typed; the day comes before the month. */
export const TYPED = [
  ISO,
  'D MMMM YYYY',
  ...['.', '/', '-', ' '].flatMap((sign) => [
    `D${sign}M${sign}YYYY`,
    `DD${sign}MM${sign}YYYY`,
    `D${sign}MM${sign}YYYY`,
    `DD${sign}M${sign}YYYY`,
  ]),
  'YYYYMMDD',
  'DDMMYYYY',
]
