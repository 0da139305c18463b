<script setup lang="ts">
import { ref, watch } from 'vue'
import CodeChoice from './CodeChoice.vue'
import type { Field, Step, Unfilled } from '@/api/types'

const props = defineProps<{ unfilled: Unfilled; field: Field | undefined; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()
const text = ref(props.unfilled.fill ?? '')

function fill(value: string): void {
  if (value !== (props.unfilled.fill ?? '')) emit('step', { kind: 'fill', field: props.unfilled.field, value })
}

watch(() => props.unfilled.fill, (now) => (text.value = now ?? ''))
</script>

<template>
  <div class="strip">
    <span class="name">{{ unfilled.title }}<i v-if="unfilled.required" class="bad"> required</i></span>
    <span class="soft">nothing in the file</span>
    <CodeChoice v-if="field?.code_list" :list="field.code_list" :value="unfilled.fill || null" :locked="locked" :label="`Value for ${unfilled.title} in every row`" @chosen="fill" />
    <input v-else v-model="text" class="box" :disabled="locked" :aria-label="`Value for ${unfilled.title} in every row`" placeholder="the same in every row" @change="fill(text.trim())" />
    <span class="soft">{{ unfilled.fill ? 'the same in every row where it is blank' : 'records keep what they have; new ones stay empty' }}</span>
  </div>
</template>

<style scoped>
.strip { display: grid; grid-template-columns: 176px 230px 172px 1fr; align-items: center; min-height: 36px; background: var(--snow); border-bottom: 1px solid var(--drift); }
.name { font-weight: 600; padding-left: 26px; }
.name i { font-style: normal; font-weight: 400; font-size: 12.5px; }
.box { width: 158px; }
.soft { font-size: 13px; }
</style>
