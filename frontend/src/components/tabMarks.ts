import type { Mark } from '@/api/client'

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }
const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => ENTITIES[sign] ?? sign)

/** One mark as SVG text. Inks become classes, so that the colours stay in one style sheet. */
function drawn(mark: Mark): string {
  switch (mark.kind) {
    case 'line':
      return `<line class="stroke-${mark.ink}" x1="${mark.x1}" y1="${mark.y1}" x2="${mark.x2}" y2="${mark.y2}" stroke-width="${mark.width}"/>`
    case 'disc': {
      const ring = mark.width ? ` stroke-${mark.ink}` : ''
      return `<circle class="fill-${mark.fill}${ring}" cx="${mark.x}" cy="${mark.y}" r="${mark.radius}" stroke-width="${mark.width}"/>`
    }
    case 'path': {
      const look = mark.width ? `stroke-${mark.ink} open` : `fill-${mark.ink}`
      return `<path class="${look}" d="${mark.d}" stroke-width="${mark.width}"/>`
    }
    case 'text': {
      const look = `fill-${mark.ink} face-${mark.face}${mark.bold ? ' bold' : ''}`
      return `<text class="${look}" x="${mark.x}" y="${mark.y}" font-size="${mark.size}" text-anchor="${escaped(mark.anchor)}">${escaped(mark.text)}</text>`
    }
  }
}

/**
 * The marks of a layout as SVG text. A ladder has thousands of marks that never change one by one:
 * as text the browser parses them at once instead of keeping each as an element of the framework.
 */
export const drawing = (marks: readonly Mark[]): string => marks.map(drawn).join('')
