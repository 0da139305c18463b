<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { requestSheetAddress } from '@/api/rosters'
import { listSources } from '@/api/sources'
import type { Roster } from '@/api/types'
import { focusSoon } from '@/logic/focus'
import { counted } from '@/logic/words'

const props = defineProps<{ open: boolean; roster: Roster }>()
const emit = defineEmits<{ close: [] }>()

const whom = ref('')
const chosen = ref(new Set<string>())
const offices = ref<string[]>([])
const box = ref<HTMLInputElement>()
const rest = computed(() => props.roster.fields.filter((one) => !one.is_key))
const keys = computed(() => props.roster.fields.filter((one) => one.is_key))
const fields = computed(() =>
  props.roster.fields
    .filter((one) => one.is_key || chosen.value.has(one.name))
    .map((one) => one.name),
)
const owned = (office: string) =>
  rest.value.filter((one) => one.owner && one.owner.toLowerCase() === office.trim().toLowerCase())
const address = (format: 'xlsx' | 'csv') =>
  requestSheetAddress(props.roster.name, format, whom.value.trim(), fields.value)

function pick(names: string[]): void {
  chosen.value = new Set(names)
}
function tick(name: string): void {
  const now = new Set(chosen.value)
  if (!now.delete(name)) now.add(name)
  chosen.value = now
}

watch(
  () => props.open,
  async (open) => {
    if (!open) return
    whom.value = ''
    pick(rest.value.map((one) => one.name))
    focusSoon(() => box.value)
    const sources = await listSources().catch(() => [])
    const known = [
      ...sources.filter((one) => one.roster === props.roster.name).map((one) => one.name),
      ...props.roster.fields.map((one) => one.owner),
    ]
    offices.value = [...new Set(known.filter(Boolean))].sort()
  },
)
// An office that owns fields is asked for these.
watch(whom, (now) => {
  const mine = owned(now)
  if (mine.length) pick(mine.map((one) => one.name))
})
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="`Ask an office for data of ${roster.title}`"
    :footer="null"
    :width="600"
    @cancel="emit('close')"
  >
    <label class="whom"
      >Made for
      <input
        ref="box"
        v-model="whom"
        class="box"
        list="request-offices"
        maxlength="120"
        placeholder="an office or system"
    /></label>
    <datalist id="request-offices">
      <option v-for="one in offices" :key="one" :value="one" />
    </datalist>
    <p class="soft">
      {{
        whom.trim()
          ? `When it comes back it is known to be from ${whom.trim()}, and read as was learnt there.`
          : 'Without a name it is not known where it comes from when it comes back.'
      }}
    </p>
    <p class="all">
      <b>{{ counted(fields.length, 'field') }}</b><span class="soft"
        >{{ keys.map((one) => one.title).join(' and ') }} always: by it we know the person.</span
      ><span class="grow" />
      <button type="button" class="btn" @click="pick(rest.map((one) => one.name))">All</button>
      <button
        type="button"
        class="btn"
        @click="pick(rest.filter((one) => one.required).map((one) => one.name))"
      >
        Required ones
      </button>
      <button
        v-if="owned(whom).length"
        type="button"
        class="btn"
        @click="pick(owned(whom).map((one) => one.name))"
      >
        Those that {{ whom.trim() }} owns
      </button>
    </p>
    <ul class="choose">
      <li v-for="one in rest" :key="one.name">
        <label
          ><input type="checkbox" :checked="chosen.has(one.name)" @change="tick(one.name)" />
          {{ one.title }}<span v-if="one.required" class="soft"> required</span></label
        >
      </li>
    </ul>
    <p class="do">
      <a class="btn main" :href="address('xlsx')" download @click="emit('close')">Download XLSX</a>
      <a class="btn" :href="address('csv')" download @click="emit('close')">Download CSV</a>
      <button type="button" class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.whom {
  display: grid;
  grid-template-columns: 76px 1fr;
  align-items: center;
  margin: 4px 0 6px;
  font-weight: 600;
}
.all {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 10px;
}
.choose {
  columns: 2;
  margin: 8px 0 14px;
  padding: 0;
  list-style: none;
  max-height: 320px;
  overflow: auto;
}
.choose li {
  padding: 2px 0;
  break-inside: avoid;
}
.do {
  display: flex;
  gap: 8px;
}
</style>
