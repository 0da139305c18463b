<script setup lang="ts">
import CodeChoice from './CodeChoice.vue'
import type { Column, Field, Step } from '@/api/types'

const props = defineProps<{ translations: Column['translations']; field: Field; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()

const means = (text: string, to: string) =>
  emit('step', { kind: 'translate', field: props.field.name, texts: [text], to })
</script>

<template>
  <ul class="translations">
    <li v-for="one in translations" :key="one.text">
      <span class="text" :class="{ bad: one.how === 'wrong' }" :title="one.text">{{
        one.text
      }}</span>
      <span class="n">{{ one.rows }} {{ one.how === 'same' ? '=' : '→' }}</span>
      <button
        v-for="code in one.likely.slice(0, 2)"
        :key="code"
        class="btn fir"
        :disabled="locked"
        @click="means(one.text, code)"
      >
        {{ code }}?
      </button>
      <CodeChoice
        v-if="one.how !== 'same'"
        :list="field.code_list"
        :value="one.to"
        :locked="locked"
        :label="`What ${one.text} means`"
        @chosen="(code) => means(one.text, code)"
      />
      <span v-else class="mono" :title="one.label">{{ one.to }}</span>
    </li>
  </ul>
</template>

<style scoped>
.translations {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(350px, 100%), 1fr));
  gap: 0 22px;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 32px;
  border-bottom: 1px solid var(--drift);
}
.text {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.text.bad {
  font-weight: 600;
}
.n {
  color: var(--ink2);
  font-size: 13px;
  white-space: nowrap;
}
.mono {
  width: 168px;
  padding-left: 9px;
}
</style>
