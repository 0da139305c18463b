<script setup lang="ts">
import { ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { useKeys } from '@/composables/useKeys'
import { useSession } from '@/composables/useSession'

const KEYS = [
  ['/', 'find a person, a line, a code, an intake'],
  ['.', 'next problem'],
  [',', 'previous problem'],
  ['↑ ↓', 'row before, row after'],
  ['Enter', 'accept what is proposed, or open'],
  ['1 … 6', 'remedy of the open problem, for all of its rows'],
  ['← →', 'cell before, cell after'],
  ['Shift ↑↓', 'more rows of the column'],
  ['F2', 'edit the cell, or the chosen ones'],
  ['Ctrl C V', 'copy and paste cells, from and to a spreadsheet'],
  ['Ctrl D', 'fill the chosen cells with the top one'],
  ['R', 'find and replace in the column'],
  ['E', 'edit the row'],
  ['H', 'hold the row'],
  ['L', 'leave the row out'],
  ['W', 'say yes to the row, with a reason'],
  ['1 … 4', 'on People: it is that record'],
  ['N', 'on People: somebody new; on Numbers: a new number'],
  ['1 … 9', 'on Numbers: that holder'],
  ['1 2 3', 'on Rejected: ours is right, ours is wrong, not this person'],
  ['X', 'on Changes: keep the roster’s value for the person'],
  ['[ ]', 'previous, next field that changes'],
  ['Z', 'undo'],
  ['Y', 'do again what was undone'],
  ['?', 'this sheet'],
]
const open = ref(false)
const session = useSession()
useKeys({ '?': () => (open.value = true) })
</script>

<template>
  <Modal v-model:open="open" destroy-on-close title="Keys" :footer="null" :width="760">
    <dl>
      <div v-for="[key, does] in KEYS" :key="`${key} ${does}`">
        <dt>
          <kbd>{{ key }}</kbd>
        </dt>
        <dd>{{ does }}</dd>
      </div>
    </dl>
    <p class="soft version">Nevefield {{ session.state.me?.version }}</p>
  </Modal>
</template>

<style scoped>
dl {
  columns: 2;
  column-gap: 24px;
}
dl > div {
  display: grid;
  grid-template-columns: 86px 1fr;
  padding: 3px 0;
  break-inside: avoid;
}
.version {
  margin: 12px 0 0;
}
</style>
