import { reactive, readonly } from 'vue'

/** A question of which the answer is yes or no, with what follows from a yes. */
export interface Question {
  title: string
  /** What follows from it. */
  said: string
  /** What the button does that means yes. */
  act: string
  /** What the button does that means no. */
  not: string
}

const asked = reactive<{ question: Question | null }>({ question: null })
let settle: (answer: boolean) => void = () => undefined

/** Ask in a dialog; a question that another comes before is answered with no. */
export function ask(question: Question): Promise<boolean> {
  settle(false)
  asked.question = question
  return new Promise((resolve) => (settle = resolve))
}

/** What is asked at the moment in this window, for the dialog that shows it. */
export const useAsk = () => ({
  asked: readonly(asked),
  answer: (yes: boolean) => {
    asked.question = null
    settle(yes)
  },
})
