<script setup lang="ts">
import { ref, watch } from 'vue'
import { useTimeoutFn, watchDebounced } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { search } from '@/api/session'
import type { Hit } from '@/api/types'
import { useKeys } from '@/composables/useKeys'

const REST_MS = 120 // after the last letter
const router = useRouter()
const box = ref<HTMLInputElement>()
const text = ref('')
const hits = ref<Hit[]>([])
const chosen = ref(0)
const open = ref(false)
const answered = ref('')

useKeys({ '/': () => box.value?.focus() })

watch(text, (wanted) => {
  if (!wanted.trim()) hits.value = []
})
watchDebounced(text, (wanted) => (wanted.trim() ? find(wanted) : undefined), {
  debounce: REST_MS,
})

async function find(wanted: string): Promise<void> {
  const found = await search(wanted).catch(() => [])
  if (wanted !== text.value) return
  hits.value = found
  answered.value = wanted
  chosen.value = 0
  open.value = true
}

function move(by: number): void {
  chosen.value = Math.max(0, Math.min(hits.value.length - 1, chosen.value + by))
}

async function go(hit: Hit | undefined): Promise<void> {
  if (!hit) return
  close()
  box.value?.blur()
  await router.push(hit.place)
}

function close(): void {
  open.value = false
  text.value = ''
  hits.value = []
}

// a click on what was found comes after the box has lost the focus
const { start: leave } = useTimeoutFn(() => (open.value = false), 150, { immediate: false })

function leaveBox(): void {
  close()
  box.value?.blur()
}
</script>

<template>
  <div class="search" role="search">
    <input
      ref="box"
      v-model="text"
      class="box"
      placeholder="Find a person or line"
      aria-label="Find a person, a line, a code or an intake"
      role="combobox"
      aria-autocomplete="list"
      aria-controls="hits"
      :aria-expanded="open"
      :aria-activedescendant="open && hits.length ? `hit-${chosen}` : undefined"
      autocomplete="off"
      @focus="open = hits.length > 0"
      @blur="leave"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(hits[chosen])"
      @keydown.esc="leaveBox"
    />
    <kbd v-if="!text" aria-hidden="true">/</kbd>
    <ul v-show="open && text" id="hits" role="listbox" aria-label="Found">
      <li
        v-for="(hit, index) in hits"
        :id="`hit-${index}`"
        :key="hit.place + hit.title"
        role="option"
        :aria-selected="index === chosen"
        :class="{ on: index === chosen }"
        @mousedown.prevent="go(hit)"
      >
        <b>{{ hit.title }}</b><span>{{ hit.detail }}</span
        ><i>{{ hit.kind }}</i>
      </li>
      <li v-if="!hits.length && answered === text" class="none">Nothing is called “{{ text }}”.</li>
    </ul>
  </div>
</template>

<style scoped>
.search {
  position: relative;
  width: 210px;
}
.box {
  width: 100%;
  background: var(--shade);
  padding-right: 28px;
}
kbd {
  position: absolute;
  right: 6px;
  top: 5px;
}
ul {
  position: absolute;
  top: 32px;
  right: 0;
  width: 420px;
  max-height: 60vh;
  overflow: auto;
  background: var(--snow);
  border: 1px solid var(--ink);
  box-shadow: 0 4px 14px rgb(21 33 42 / 18%);
  z-index: 40;
}
li {
  display: flex;
  gap: 10px;
  padding: 5px 10px;
  cursor: pointer;
  border-bottom: 1px solid var(--drift);
}
li b {
  font-weight: 600;
  white-space: nowrap;
}
li span {
  color: var(--ink2);
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
li i {
  font-style: normal;
  font-size: 12px;
  color: var(--ink2);
}
li.on {
  background: var(--row-on);
  box-shadow: inset 3px 0 0 var(--fir);
}
li.none {
  color: var(--ink2);
  cursor: default;
}
</style>
