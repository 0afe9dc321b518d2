/**
 * A scan tells a hand scanner from a person by its speed.
 *
 * The scanner is a keyboard that types a tag and then Enter. Its keys come 40 ms apart or less on average, but a
 * wireless one, or a busy computer, now and then holds a key back; such a pause must not cut the tag's beginning off.
 * Times are milliseconds.
 */
export class Scan {
  private text = ''
  private began = 0
  private last = 0

  /** Takes the next key of one character. */
  key(character: string, at: number) {
    if (at - this.last > longestPause) this.text = ''
    if (!this.text) this.began = at
    this.text += character
    this.last = at
  }

  /** Answers what was scanned when Enter comes: nothing for what a person typed. */
  enter(at: number) {
    const { text, began } = this
    const scanned = text.length >= shortestTag && at - this.last <= longestPause && at - began <= text.length * perKey
    this.text = ''
    return scanned ? text.trim() : ''
  }
}

const perKey = 40
const longestPause = 150
const shortestTag = 3
