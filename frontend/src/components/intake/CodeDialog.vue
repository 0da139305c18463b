<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal, message } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { postCode } from '@/api/rosters'
import type { Cause, Field } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { asCode, parentsOf } from '@/logic/newcode'
import { focusSoon } from '@/logic/focus'
import { day } from '@/logic/words'

/** Adds the code that a cause is about to its list, on the spot. */
const props = defineProps<{ cause: Cause | null; field: Field | undefined }>()
const emit = defineEmits<{ done: []; close: [] }>()
const catalog = useCatalog()
const [code, label, parent] = [ref(''), ref(''), ref('')]
const NOTHING = { value: '', label: 'nothing above it' }
const [problem, saving] = [ref(''), ref(false)]
const box = ref<HTMLInputElement>()

const name = computed(() => props.field?.code_list ?? '')
const list = computed(() => catalog.state.lists[name.value])
const text = computed(() => props.cause?.value ?? '')
const parents = computed(() => parentsOf(list.value?.codes ?? []))
const there = computed(() => list.value?.codes.find((one) => one.code === code.value.trim()))
const fits = computed(() =>
  [code.value, label.value].some(
    (one) => one.trim().toLowerCase() === text.value.trim().toLowerCase(),
  ),
)

watch(
  () => props.cause,
  async (cause) => {
    if (!cause || !name.value) return
    ;[code.value, label.value, parent.value, problem.value] = ['', '', '', '']
    try {
      await catalog.loadList(name.value)
      const guess = asCode(text.value, list.value?.codes ?? [])
      ;[code.value, label.value] = [guess.code, guess.label]
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
    focusSoon(() => box.value)
  },
  { immediate: true },
)

async function add(): Promise<void> {
  if (saving.value || there.value || !code.value.trim()) return
  saving.value = true
  problem.value = ''
  try {
    await postCode(name.value, {
      code: code.value.trim(),
      label: label.value.trim(),
      parent: parent.value,
      aliases: [],
      first_day: null,
      last_day: null,
    })
    delete catalog.state.lists[name.value]
    await catalog.loadList(name.value)
    void message.success(
      `${code.value.trim()} is a code of ${list.value?.title ?? name.value} now.`,
      4,
    )
    emit('done')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <Modal
    destroy-on-close
    :open="!!cause && !!field"
    :title="`Another code in the list ${list?.title ?? ''}`"
    :footer="null"
    :width="440"
    @cancel="emit('close')"
  >
    <p class="soft">
      It is kept at once, for every place that uses the list{{
        list?.used_in.length ? ` (${list.used_in.join('; ')})` : ''
      }}. Days and other names are given under
      <RouterLink class="link" :to="`/codes/${name}`">Codes</RouterLink>, where it can be taken away
      again.
    </p>
    <form @submit.prevent="add">
      <label
        >Code <input ref="box" v-model="code" class="box mono" maxlength="80" required
      /></label>
      <label>Label <input v-model="label" class="box" maxlength="200" /></label>
      <label v-if="parents.length"
        >Belongs to
        <ChooseOne
          v-model="parent"
          class="parent"
          :options="[NOTHING, ...parents]"
          label="Belongs to"
      /></label>
      <p v-if="there" role="alert" class="bad">
        {{ there.code }} is in the list already{{ there.label ? ` (${there.label})` : ''
        }}{{ there.last_day ? `, last used on ${day(there.last_day)}` : '' }}. Give it other days
        under Codes.
      </p>
      <p v-else-if="code.trim() && !fits" class="soft">
        “{{ text }}” is neither its code nor its label: these rows stay stopped.
      </p>
      <p v-if="problem" role="alert" class="bad">{{ problem }}</p>
      <p class="do">
        <button type="submit" class="btn main" :disabled="saving || !code.trim() || !!there">
          Add {{ code.trim() || 'it' }}
        </button>
        <button type="button" class="btn" @click="emit('close')">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
label {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  align-items: center;
  gap: 8px;
  margin: 8px 0;
}
.parent {
  width: 100%;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 12px;
}
.do .main {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
