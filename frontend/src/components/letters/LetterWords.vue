<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Roster } from '@/api/types'
import type { Written } from '@/logic/letters'

/** The words of a letter, with fields put where the cursor is. */
const props = defineProps<{ roster: Roster; hasLink: boolean; onPaper: boolean }>()
const written = defineModel<Written>({ required: true })
type Part = keyof Written
const area = useTemplateRef<HTMLTextAreaElement>('area')
const last = ref<Part>('text')
const fields = computed(() => [
  ...(props.hasLink
    ? ['their link', 'the last day'].map((name) => ({ value: name, label: name }))
    : []),
  ...props.roster.fields
    .filter((one) => !one.is_kept)
    .map((one) => ({ value: one.name, label: one.title })),
])
const set = (part: Part, text: string) => (written.value = { ...written.value, [part]: text })
const typed = (event: Event) => (event.target as HTMLInputElement).value
function put(name: string | null): void {
  if (!name) return
  const [part, had] = [last.value, written.value[last.value]]
  const box = part === 'text' ? area.value : null
  const at = box?.selectionStart ?? had.length
  set(part, `${had.slice(0, at)}{${name}}${had.slice(box?.selectionEnd ?? at)}`)
  box?.focus()
}
</script>

<template>
  <label
    >Subject
    <input
      :value="written.subject"
      class="box"
      maxlength="200"
      @focus="last = 'subject'"
      @input="set('subject', typed($event))"
  /></label>
  <label v-if="onPaper"
    >Address on paper
    <textarea
      :value="written.address"
      class="box"
      rows="2"
      maxlength="400"
      placeholder="as it stands in the window of the envelope, with fields"
      @focus="last = 'address'"
      @input="set('address', typed($event))"
    />
  </label>
  <label
    >Text
    <textarea
      ref="area"
      :value="written.text"
      class="box long"
      rows="7"
      maxlength="20000"
      @focus="last = 'text'"
      @input="set('text', typed($event))"
    />
  </label>
  <ChooseOne
    :model-value="null"
    :options="fields"
    label="Put a field in"
    placeholder="put a field in …"
    @update:model-value="put"
  />
</template>

<style scoped>
.box {
  display: block;
  width: 100%;
}
textarea.box {
  height: auto;
}
textarea.long {
  min-height: 152px;
}
</style>
