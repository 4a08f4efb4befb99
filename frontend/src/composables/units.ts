import type { Settings } from '@/api/client'

type Units = Settings['units'] | undefined

/** A length on an instrument in the teacher's units, from millimetres. */
export const lengthWords = (mm: number, units: Units) => (units === 'imperial' ? `${(mm / 25.4).toFixed(1)} in` : `${Math.round(mm)} mm`)

/** The pull on a string in the teacher's units, from newtons (1 lbf is 4.448 N). */
export const pullWords = (newtons: number, units: Units) => (units === 'imperial' ? `${(newtons / 4.4482216).toFixed(1)} lb` : `${newtons} N`)
