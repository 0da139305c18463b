<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { byTitle } from '@/logic/choices'
import PatternEditor from '@/components/PatternEditor.vue'
import { previewPattern } from '@/api/intakes'
import type { Field, Pattern, Piece, Unfilled } from '@/api/types'
import { useAnswer } from '@/composables/useAnswer'
import { blankPattern, isComplete } from '@/logic/pattern'
import { counted } from '@/logic/words'

const props = defineProps<{
  intake: number
  unfilled: Unfilled | null
  fields: Field[]
  headings: string[]
}>()
const emit = defineEmits<{ done: [pattern: Pattern]; close: [] }>()

const pattern = ref<Pattern>(blankPattern())

const sources = computed(() =>
  props.fields.filter((one) => one.name !== props.unfilled?.field && !one.several),
)
const offered = computed(() => byTitle(sources.value))
const complete = computed(() => isComplete(pattern.value))

/** Names first: what is composed most often is made of them. */
function start(): Pattern {
  const means = (meaning: string) => props.fields.find((one) => one.means === meaning)?.name
  const family = means('family-name') ?? sources.value[0]?.name ?? ''
  const given = means('given-name')
  const pieces: Piece[] = [{ text: '', field: family, heading: '', letters: 5, word: 0 }]
  if (given) pieces.push({ text: '', field: given, heading: '', letters: 1, word: 1 })
  return { ...blankPattern(), pieces }
}

const {
  answer: preview,
  problem,
  waiting,
  again,
  forget,
} = useAnswer(() =>
  props.unfilled && complete.value
    ? previewPattern(props.intake, props.unfilled.field, pattern.value)
    : null,
)

watch(
  () => props.unfilled,
  (now) => {
    forget()
    if (now)
      pattern.value = now.composed ? (JSON.parse(JSON.stringify(now.composed)) as Pattern) : start()
  },
)
watch(pattern, again)
</script>

<template>
  <Modal
    destroy-on-close
    :open="!!unfilled"
    :title="`Compose ${unfilled?.title ?? ''}`"
    :footer="null"
    :width="640"
    @cancel="emit('close')"
  >
    <p class="soft">
      Where neither the file nor the roster has a value, one is put together from these pieces.
    </p>
    <PatternEditor v-model="pattern" :fields="offered" :headings="headings" />
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="waiting" class="preview soft" role="status">Putting them together …</p>
    <div v-else-if="preview" class="preview" aria-live="polite">
      <p>
        {{ counted(preview.made, 'value') }}, {{ preview.numbered }} made unique with a
        number<template v-if="preview.without"
          >; {{ counted(preview.without, 'row') }} without, for want of a field</template
        >
      </p>
      <ul>
        <li v-for="one in preview.examples" :key="one.line">
          <span class="soft">line {{ one.line }}</span> {{ one.name }} <span class="arrow">→</span
          ><b class="mono">{{ one.value }}</b>
        </li>
      </ul>
    </div>
    <p class="do">
      <button class="btn main" :disabled="!complete" @click="emit('done', pattern)">
        Compose {{ unfilled?.title }}
      </button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.do {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  align-items: center;
  margin: 10px 0;
}
.preview {
  background: var(--shade);
  padding: 8px 12px;
  margin-bottom: 12px;
}
.preview li {
  line-height: 22px;
}
</style>
