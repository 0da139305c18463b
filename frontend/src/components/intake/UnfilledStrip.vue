<script setup lang="ts">
import { ref, watch } from 'vue'
import CodeChoice from './CodeChoice.vue'
import type { Field, Step, Unfilled } from '@/api/types'

const props = defineProps<{ unfilled: Unfilled; field: Field | undefined; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step]; compose: [] }>()
const text = ref(props.unfilled.fill ?? '')

function fill(value: string): void {
  if (value !== (props.unfilled.fill ?? '')) emit('step', { kind: 'fill', field: props.unfilled.field, value })
}

watch(() => props.unfilled.fill, (now) => (text.value = now ?? ''))
</script>

<template>
  <div class="strip">
    <span class="name">{{ unfilled.title }}<i v-if="unfilled.required" class="bad"> required</i></span>
    <span class="soft">{{ unfilled.composed ? 'composed' : 'nothing in the file' }}</span>
    <button v-if="unfilled.composed" class="box plain-box" :disabled="locked" :title="unfilled.said" @click="emit('compose')">{{ unfilled.said }}</button>
    <CodeChoice v-else-if="field?.code_list" :list="field.code_list" :value="unfilled.fill || null" :locked="locked" :label="`Value for ${unfilled.title} in every row`" @chosen="fill" />
    <input v-else v-model="text" class="box" :disabled="locked" :aria-label="`Value for ${unfilled.title} in every row`" placeholder="the same in every row" @change="fill(text.trim())" />
    <span class="soft said">
      <template v-if="unfilled.composed">{{ unfilled.examples.join(', ') }} …</template>
      <template v-else>{{ unfilled.fill ? 'the same in every row where it is blank' : 'records keep what they have; new ones stay empty' }}</template>
    </span>
    <button v-if="unfilled.composed" class="btn" :disabled="locked" @click="emit('step', { kind: 'compose', field: unfilled.field, pattern: null })">Compose no more</button>
    <button v-else-if="!field?.code_list" class="btn" :disabled="locked" @click="emit('compose')">Compose it</button>
    <span v-else />
  </div>
</template>

<style scoped>
.strip { display: grid; grid-template-columns: 176px 230px 172px 1fr auto; padding-right: 10px; align-items: center; min-height: 36px; background: var(--snow); border-bottom: 1px solid var(--drift); }
.name { font-weight: 600; padding-left: 26px; }
.name i { font-style: normal; font-weight: 400; font-size: 12.5px; }
.box { width: 158px; }
.soft { font-size: 13px; }
.said { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.plain-box { text-align: left; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; cursor: pointer; }
</style>
