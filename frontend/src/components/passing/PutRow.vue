<script setup lang="ts">
import { ref } from 'vue'
import PutSource from './PutSource.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import PatternEditor from '@/components/PatternEditor.vue'
import TextBox from '@/components/TextBox.vue'
import type { FieldDocument, Pattern } from '@/api/types'
import { byTitle } from '@/logic/choices'
import { FORMS, type Put } from '@/logic/passing'

/** One field of theirs, and what goes into it. */
defineProps<{ fields: FieldDocument[]; fixed: boolean }>()
const put = defineModel<Put>({ required: true })
const emit = defineEmits<{ remove: []; up: [] }>()

const open = ref(false)
const set = (next: Partial<Put>) => (put.value = { ...put.value, ...next })
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
const text = (value: unknown) => String(value)
</script>

<template>
  <tr>
    <td>
      <TextBox
        class="box wide"
        :model-value="put.to"
        maxlength="200"
        aria-label="Their field"
        @update:model-value="(to) => set({ to: text(to) })"
      />
    </td>
    <td>
      <PutSource v-model="put" v-model:open="open" :fields="fields" />
    </td>
    <td>
      <ChooseOne
        v-if="put.from"
        :model-value="put.form ?? 'as it is'"
        :options="FORMS"
        :label="`How ${put.to} is written`"
        @update:model-value="(form) => set({ form: form ?? 'as it is' })"
      />
    </td>
    <td v-if="fixed">
      <TextBox
        class="box few"
        type="number"
        :model-value="put.width ?? 0"
        :aria-label="`How wide ${put.to} is`"
        @update:model-value="(width) => set({ width: Number(width) })"
      />
    </td>
    <td>
      <input
        type="checkbox"
        :checked="put.is_needed ?? false"
        :aria-label="`${put.to} is needed`"
        @change="(event) => set({ is_needed: ticked(event) })"
      />
    </td>
    <td class="acts">
      <button class="btn" :aria-label="`Carry ${put.to} up`" @click="emit('up')">↑</button
      ><button class="btn" :aria-label="`Remove ${put.to}`" @click="emit('remove')">×</button>
    </td>
  </tr>
  <tr v-if="open && put.pattern">
    <td colspan="6">
      <PatternEditor
        :model-value="put.pattern"
        :fields="byTitle(fields)"
        @update:model-value="(pattern: Pattern) => set({ pattern })"
      />
    </td>
  </tr>
</template>

<style scoped>
td {
  padding: 3px 6px 3px 0;
  vertical-align: top;
}
.wide {
  width: 100%;
}
.few {
  width: 60px;
}
.acts {
  white-space: nowrap;
}
.link {
  display: block;
  min-height: 24px;
  text-align: left;
}
</style>
