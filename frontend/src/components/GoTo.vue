<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useEventListener, watchDebounced } from '@vueuse/core'
import { Modal } from 'ant-design-vue'
import { useRouter } from 'vue-router'
import { search } from '@/api/session'
import { useCatalog } from '@/composables/useCatalog'
import { useSession } from '@/composables/useSession'
import { openDialogs } from '@/logic/focus'
import { actsHere, looked, placesFor, type Target } from '@/logic/places'

/** Ctrl K: whatever can be gone to or done from here, found by a few letters. */
const REST_MS = 120 // after the last letter
const SHOWN = 40
const HEADS = { here: 'On this page', place: 'Places', found: 'Found' }

const router = useRouter()
const catalog = useCatalog()
const session = useSession()
const open = ref(false)
const typed = ref('')
/** Nothing is chosen before something is typed: a page’s acts are too much for a lone Enter. */
const chosen = ref(-1)
const box = ref<HTMLInputElement>()
const list = ref<HTMLElement>()
const here = ref<Target[]>([])
const found = ref<Target[]>([])
const to = (path: string) => () => void router.push(path)
const places = computed<Target[]>(() => [
  ...placesFor(session.state.me?.everywhere ?? 0).map((one) => ({
    kind: 'place' as const,
    title: one.title,
    detail: '',
    go: to(one.path),
  })),
  ...catalog.state.rosters.map((one) => ({
    kind: 'place' as const,
    title: one.title,
    detail: 'roster',
    go: to(`/rosters/${one.name}`),
  })),
])
const targets = computed(() => {
  const near = looked([...here.value, ...places.value], typed.value)
  return [...near.slice(0, SHOWN), ...found.value]
})

async function show(): Promise<void> {
  here.value = actsHere()
  found.value = []
  typed.value = ''
  chosen.value = -1
  open.value = true
  if (!catalog.state.rosters.length) void catalog.load().catch(() => undefined)
  await nextTick()
  setTimeout(() => box.value?.focus())
}
async function take(target: Target | undefined): Promise<void> {
  if (!target || !open.value) return
  open.value = false
  // the dialog gives the focus back first; then what was chosen has it
  await new Promise((done) => setTimeout(done, 50))
  target.go()
}
function move(by: number): void {
  const size = targets.value.length
  const from = Math.max(chosen.value, by > 0 ? -1 : 0)
  chosen.value = size ? (from + by + size) % size : -1
  void nextTick(() =>
    list.value?.querySelector('[aria-selected="true"]')?.scrollIntoView({ block: 'nearest' }),
  )
}
watch(typed, (now) => (chosen.value = now.trim() ? 0 : -1))
watchDebounced(
  typed,
  async (wanted) => {
    const places = wanted.trim() ? await search(wanted).catch(() => []) : []
    if (wanted !== typed.value) return
    found.value = places.map((one) => ({
      kind: 'found' as const,
      title: one.title,
      detail: `${one.kind} · ${one.detail}`,
      go: to(one.place),
    }))
  },
  { debounce: REST_MS },
)
useEventListener(document, 'keydown', (event) => {
  if (!(event.ctrlKey || event.metaKey) || event.altKey || event.key.toLowerCase() !== 'k') return
  event.preventDefault()
  if (event.repeat) return
  if (open.value) open.value = false
  else if (!openDialogs().length) void show()
})
</script>

<template>
  <Modal v-model:open="open" destroy-on-close title="Go to, or do" :footer="null" :width="620">
    <input
      ref="box"
      v-model="typed"
      class="box"
      role="combobox"
      aria-label="A place, an act of this page, a person, a line or a code"
      aria-autocomplete="list"
      aria-expanded="true"
      aria-controls="go-to"
      :aria-activedescendant="targets[chosen] ? `go-to-${chosen}` : undefined"
      placeholder="A place, an act of this page, a person, a line …"
      autocomplete="off"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="take(targets[chosen])"
    />
    <ul id="go-to" ref="list" role="listbox" aria-label="What fits">
      <template v-for="(target, place) in targets" :key="`${target.kind} ${target.title} ${place}`">
        <li v-if="target.kind !== targets[place - 1]?.kind" class="head" role="presentation">
          {{ HEADS[target.kind] }}
        </li>
        <li
          :id="`go-to-${place}`"
          role="option"
          :aria-selected="place === chosen"
          :class="{ on: place === chosen }"
          @click="take(target)"
        >
          <b>{{ target.title }}</b> <span>{{ target.detail }}</span>
        </li>
      </template>
    </ul>
    <p v-if="!targets.length" class="soft" role="status">Nothing here is called “{{ typed }}”.</p>
  </Modal>
</template>

<style scoped>
.box {
  width: 100%;
}
ul {
  margin-top: 8px;
  max-height: 50vh;
  overflow: auto;
}
li {
  display: flex;
  gap: 10px;
  padding: 4px 10px;
  cursor: pointer;
}
li.head {
  padding: 8px 10px 2px;
  color: var(--ink2);
  font-size: 12.5px;
  cursor: default;
}
li b {
  font-weight: 600;
  white-space: nowrap;
}
li span {
  color: var(--ink2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
li.on {
  background: var(--row-on);
  box-shadow: inset 3px 0 0 var(--fir);
}
</style>
