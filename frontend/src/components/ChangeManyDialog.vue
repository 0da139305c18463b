<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { Modal } from 'ant-design-vue'
import { byTitle } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import FieldEditor from './intake/FieldEditor.vue'
import { changeMany, type Meant } from '@/api/shortlists'
import type { ActIn, Roster } from '@/api/types'
import { useWork } from '@/composables/useWork'
import { actsFor, isSaid } from '@/logic/acts'
import { count, counted } from '@/logic/words'

const props = defineProps<{ open: boolean; roster: Roster; meant: Meant; number: number }>()
const emit = defineEmits<{ close: [] }>()

const router = useRouter()
const { work, during } = useWork()
const acts = ref<ActIn[]>([])
const problem = ref('')
const working = ref(false)
const fields = computed(() => props.roster.fields.filter((one) => !one.is_key))
const free = computed(() =>
  fields.value.filter((one) => !acts.value.some((act) => act.field === one.name)),
)
const of = (act: ActIn) => fields.value.find((one) => one.name === act.field)
const takes = (act: ActIn) => actsFor(of(act)!).find((one) => one.act === act.act)?.takes ?? ''
const sure = computed(() => acts.value.length > 0 && acts.value.every(isSaid))

function add(field: string | null): void {
  if (field) acts.value.push({ field, act: 'set', value: '', find: '' })
}

async function done(): Promise<void> {
  if (!sure.value || working.value) return
  working.value = true
  problem.value = ''
  try {
    const made = await during((token) =>
      changeMany(props.roster.name, props.meant, acts.value, token),
    )
    emit('close')
    await router.push(`/intakes/${made.intake}/changes`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    working.value = false
  }
}

watch(
  () => props.open,
  (open) => {
    if (!open) return
    acts.value = []
    problem.value = ''
  },
)
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="`Change ${counted(number, 'record')} of ${roster.title}`"
    :footer="null"
    :width="640"
    @cancel="emit('close')"
  >
    <p class="soft">
      Nothing is changed yet: you see what it would do, record by record, before you apply it. It
      becomes one receipt, and can be taken back.
    </p>
    <ul class="acts">
      <li v-for="(act, place) in acts" :key="act.field">
        <b>{{ of(act)?.title }}</b>
        <ChooseOne
          v-model="act.act"
          :options="actsFor(of(act)!).map((one) => ({ value: one.act, label: one.word }))"
          :label="`What becomes of ${of(act)?.title}`"
        />
        <span class="value">
          <input
            v-if="act.act === 'replace'"
            v-model="act.find"
            class="box"
            :aria-label="`The text to be replaced in ${of(act)?.title}`"
            placeholder="this text"
            maxlength="1000"
          />
          <span v-if="act.act === 'replace'" class="soft">by</span>
          <input
            v-if="takes(act) === 'number'"
            v-model="act.value"
            class="box"
            inputmode="decimal"
            :aria-label="`By how much ${of(act)?.title} changes`"
          />
          <input
            v-else-if="act.act === 'replace'"
            v-model="act.value"
            class="box"
            :aria-label="`The text put into ${of(act)?.title}`"
            placeholder="nothing"
          />
          <FieldEditor
            v-else-if="takes(act)"
            v-model="act.value"
            :field="of(act)!"
            @done="() => undefined"
            @leave="() => undefined"
          />
        </span>
        <button
          class="btn"
          :aria-label="`Leave ${of(act)?.title} as it is`"
          @click="acts.splice(place, 1)"
        >
          ×
        </button>
      </li>
    </ul>
    <p>
      <ChooseOne
        :model-value="null"
        :options="byTitle(free)"
        label="A field to change"
        :placeholder="acts.length ? 'and another field …' : 'Choose a field …'"
        @update:model-value="add"
      />
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="working && work" class="soft" role="status">
      {{ work.doing }} … {{ work.total ? `${count(work.done)} of ${count(work.total)}` : '' }}
    </p>
    <p class="do">
      <button class="btn main" :disabled="!sure || working" @click="done">
        {{ working ? 'Working it out …' : 'See what it would do' }}</button><button
        class="btn"
        @click="emit('close')"
      >
        Cancel
      </button>
    </p>
  </Modal>
</template>

<style scoped>
.acts {
  margin: 12px 0;
  border-top: 1px solid var(--drift);
}
.acts li {
  display: grid;
  grid-template-columns: 130px 190px 1fr 30px;
  gap: 10px;
  align-items: center;
  padding: 7px 0;
  border-bottom: 1px solid var(--drift);
}
.value {
  display: flex;
  gap: 6px;
  align-items: center;
  min-width: 0;
}
.value > * {
  min-width: 0;
  flex: 1;
}
.value > .soft {
  flex: none;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
