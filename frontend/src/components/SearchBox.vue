<script setup lang="ts">
import { ref, watch } from 'vue'
import { useTimeoutFn, watchDebounced } from '@vueuse/core'
import { useRouter } from 'vue-router'
import KeyCap from '@/components/controls/KeyCap.vue'
import { search } from '@/api/session'
import type { Place } from '@/api/types'
import { useKeys } from '@/composables/useKeys'

const REST_MS = 120 // after the last letter
const router = useRouter()
const box = ref<HTMLInputElement>()
const text = ref('')
const places = ref<Place[]>([])
const chosen = ref(0)
const open = ref(false)
const answered = ref('')

useKeys({ '/': () => box.value?.focus() })

watch(text, (wanted) => {
  if (!wanted.trim()) places.value = []
})
watchDebounced(text, (wanted) => (wanted.trim() ? find(wanted) : undefined), {
  debounce: REST_MS,
})

async function find(wanted: string): Promise<void> {
  const found = await search(wanted).catch(() => [])
  if (wanted !== text.value) return
  places.value = found
  answered.value = wanted
  chosen.value = 0
  open.value = true
}

function move(by: number): void {
  chosen.value = Math.max(0, Math.min(places.value.length - 1, chosen.value + by))
}

async function go(place: Place | undefined): Promise<void> {
  if (!place) return
  close()
  box.value?.blur()
  await router.push(place.place)
}

function close(): void {
  open.value = false
  text.value = ''
  places.value = []
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
      aria-controls="places"
      :aria-expanded="open"
      :aria-activedescendant="open && places.length ? `place-${chosen}` : undefined"
      autocomplete="off"
      @focus="open = places.length > 0"
      @blur="leave"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(places[chosen])"
      @keydown.esc="leaveBox"
    />
    <KeyCap v-if="!text" of="/" aria-hidden="true" />
    <ul v-show="open && text" id="places" role="listbox" aria-label="Found">
      <li
        v-for="(place, index) in places"
        :id="`place-${index}`"
        :key="place.place + place.title"
        role="option"
        :aria-selected="index === chosen"
        :class="{ on: index === chosen }"
        @mousedown.prevent="go(place)"
      >
        <b>{{ place.title }}</b><span>{{ place.detail }}</span
        ><i>{{ place.kind }}</i>
      </li>
      <li v-if="!places.length && answered === text" class="none">
        Nothing is called “{{ text }}”.
      </li>
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
