import { ref } from 'vue'

const open = ref(false)

/** Whether the sheet of keys is open, in this window. */
export const useKeySheet = () => open
