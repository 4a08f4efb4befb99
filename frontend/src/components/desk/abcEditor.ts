import { defaultKeymap, history, historyKeymap, isolateHistory, redo, undo } from '@codemirror/commands'
import { setDiagnostics, type Diagnostic } from '@codemirror/lint'
import { EditorState, StateEffect, StateField, Transaction } from '@codemirror/state'
import {
  Decoration,
  EditorView,
  MatchDecorator,
  ViewPlugin,
  drawSelection,
  keymap,
  lineNumbers,
  type DecorationSet,
  type ViewUpdate,
} from '@codemirror/view'

import type { Trouble } from '@/api/client'

/** What stands out in ABC: fields, chords, bar lines, words of text. Looks only; the server reads. */
const SIGNS = new MatchDecorator({
  regexp: /^[A-Za-z]:.*$|"[^"\n]*"|![^!\n]+!|%.*$|\[[A-Z]:[^\]]*\]|[|:\][]+/gm,
  decoration: (match) => {
    const sign = match[0]
    if (/^w:/.test(sign)) return Decoration.mark({ class: 'abc-words' })
    if (/^[A-Za-z]:|^\[[A-Z]:/.test(sign)) return Decoration.mark({ class: 'abc-field' })
    if (sign.startsWith('"')) return Decoration.mark({ class: 'abc-chord' })
    if (/^[%!]/.test(sign)) return Decoration.mark({ class: 'abc-soft' })
    return Decoration.mark({ class: 'abc-bar' })
  },
})

const signs = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet
    constructor(view: EditorView) {
      this.decorations = SIGNS.createDeco(view)
    }
    update(update: ViewUpdate) {
      this.decorations = SIGNS.updateDeco(update, this.decorations)
    }
  },
  { decorations: (plugin) => plugin.decorations },
)

const markHeard = StateEffect.define<[number, number] | null>()
const heardField = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    for (const effect of transaction.effects) {
      if (!effect.is(markHeard)) continue
      if (!effect.value) return Decoration.none
      const [start, end] = effect.value
      if (end > transaction.newDoc.length) return Decoration.none
      return Decoration.set(Decoration.mark({ class: 'abc-heard' }).range(start, end))
    }
    return marks.map(transaction.changes)
  },
  provide: (field) => EditorView.decorations.from(field),
})

export interface EditorEvents {
  text: (text: string) => void
  cursor: (at: number) => void
}

/** A CodeMirror editor for one ABC text. */
export function makeEditor(parent: HTMLElement, doc: string, label: string, events: EditorEvents) {
  const view = new EditorView({
    parent,
    state: EditorState.create({
      doc,
      extensions: [
        history(),
        lineNumbers(),
        drawSelection(),
        EditorView.lineWrapping,
        signs,
        heardField,
        EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false', tabindex: '0' }),
        // Tab stays the key that leaves the editor.
        keymap.of([...defaultKeymap, ...historyKeymap]),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) events.text(update.state.doc.toString())
          if (update.docChanged || update.selectionSet) events.cursor(update.state.selection.main.head)
        }),
      ],
    }),
  })

  /** The text in place of the old one, as a single step of undo that only touches what differs. */
  function replace(text: string, at?: number) {
    const old = view.state.doc.toString()
    let start = 0
    while (start < Math.min(old.length, text.length) && old[start] === text[start]) start++
    let end = 0
    while (end < Math.min(old.length, text.length) - start && old[old.length - 1 - end] === text[text.length - 1 - end]) end++
    const selection = at === undefined ? undefined : { anchor: Math.min(at, text.length) }
    view.dispatch({
      changes: { from: start, to: old.length - end, insert: text.slice(start, text.length - end) },
      selection,
      scrollIntoView: at !== undefined,
      userEvent: 'input.tool',
      // A change of a tool is one step of its own; filling an empty editor is none.
      annotations: old ? isolateHistory.of('full') : Transaction.addToHistory.of(false),
    })
  }

  function select(start: number, end: number) {
    const length = view.state.doc.length
    // The head stands at the beginning, so that the cursor is on the note and not behind it.
    view.dispatch({ selection: { anchor: Math.min(end, length), head: Math.min(start, length) }, scrollIntoView: true })
  }

  function showTroubles(troubles: Trouble[]) {
    const length = view.state.doc.length
    const severity = { error: 'error', warning: 'warning', note: 'info' } as const
    const diagnostics: Diagnostic[] = troubles.map((one) => ({
      from: Math.min(one.start, length),
      to: Math.min(Math.max(one.end, one.start), length),
      severity: severity[one.level],
      message: [one.message, one.remedy].filter(Boolean).join(' '),
    }))
    view.dispatch(setDiagnostics(view.state, diagnostics.sort((a, b) => a.from - b.from)))
  }

  return {
    text: () => view.state.doc.toString(),
    replace,
    select,
    showTroubles,
    markHeard: (place: [number, number] | null) => view.dispatch({ effects: markHeard.of(place) }),
    focus: () => view.focus(),
    undo: () => undo(view),
    redo: () => redo(view),
    destroy: () => view.destroy(),
  }
}
