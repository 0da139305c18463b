<script setup lang="ts">
import { computed } from 'vue'
import { Modal } from 'ant-design-vue'
import type { Corrections } from '@/api/types'
import { counted } from '@/logic/words'

const props = defineProps<{ corrections: Corrections | null }>()
const emit = defineEmits<{ close: [] }>()

const SHOWN = 12
const lines = (all: number[]) =>
  `line ${all.slice(0, SHOWN).join(', ')}${all.length > SHOWN ? ' …' : ''}`
const found = computed(() => {
  const one = props.corrections
  if (!one) return []
  return [
    {
      key: 'corrected',
      n: one.corrected.length,
      said: 'corrected: they go in now',
      detail: lines(one.corrected),
    },
    {
      key: 'altered',
      n: one.altered.length,
      said: 'altered, and still not going in',
      detail: lines(one.altered),
    },
    {
      key: 'untouched',
      n: one.untouched.length,
      said: 'came back as they were',
      detail: lines(one.untouched),
    },
    {
      key: 'missing',
      n: one.missing.length,
      said: 'of the intake’s problem rows are not in the sheet',
      detail: lines(one.missing),
    },
    {
      key: 'added',
      n: one.added.length,
      said: 'of the sheet are no rows of the file; they were not taken',
      detail: one.added.slice(0, SHOWN).join(', '),
    },
  ].filter((part) => part.n)
})
</script>

<template>
  <Modal
    destroy-on-close
    :open="!!corrections"
    title="The corrected sheet came back"
    :footer="null"
    :width="480"
    @cancel="emit('close')"
  >
    <template v-if="corrections">
      <ul>
        <li v-for="part in found" :key="part.key">
          <b>{{ counted(part.n, 'row') }}</b> {{ part.said }}<br /><span class="soft small">{{
            part.detail
          }}</span>
        </li>
      </ul>
      <p v-if="corrections.beside" class="flag">
        {{ counted(corrections.beside, 'cell was', 'cells were') }} altered that had no problem.
        Undo takes the whole sheet back.
      </p>
      <p v-if="!corrections.step" class="soft">Nothing was altered in it.</p>
      <button class="btn main" @click="emit('close')">Look at the rows</button>
    </template>
  </Modal>
</template>

<style scoped>
ul {
  margin: 6px 0 14px;
}
li {
  padding: 6px 0;
  border-bottom: 1px solid var(--drift);
}
.flag,
.soft {
  margin-bottom: 12px;
}
</style>
