<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import Elsewhere from './Elsewhere.vue'
import HouseMark from './HouseMark.vue'
import SearchBox from './SearchBox.vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import { forgetDrafts } from '@/composables/useDraft'
import { useKeySheet } from '@/composables/useKeySheet'
import { useSession } from '@/composables/useSession'
import { placesFor } from '@/logic/places'

const route = useRoute()
const router = useRouter()
const session = useSession()
const keySheet = useKeySheet()
const here = computed(
  () => (path: string) => (path === '/' ? route.path === '/' : route.path.startsWith(path)),
)

const places = computed(() => placesFor(session.state.me?.everywhere ?? 0))
async function leave(): Promise<void> {
  await session.end()
  forgetDrafts()
  await router.push('/sign-in')
}
</script>

<template>
  <header class="no-print">
    <RouterLink to="/" class="brand">Nevefield</RouterLink>
    <nav aria-label="Places">
      <RouterLink
        v-for="place in places"
        :key="place.path"
        :to="place.path"
        :class="{ on: here(place.path) }"
        :aria-current="here(place.path) ? 'page' : undefined"
      >
        {{ place.title }}
      </RouterLink>
    </nav>
    <span class="grow" />
    <HouseMark />
    <SearchBox />
    <Elsewhere />
    <span class="who">
      <RouterLink class="name one-line" to="/password" title="Your password and second step">{{
        session.state.me?.name
      }}</RouterLink>
      <button class="plain" @click="keySheet = true">Keys <KeyCap of="?" /></button>
      <button class="btn" @click="leave">Sign out</button>
    </span>
  </header>
</template>

<style scoped>
header {
  height: 44px;
  display: flex;
  align-items: center;
  gap: 22px;
  padding-right: 14px;
  background: var(--snow);
  border-bottom: 1px solid var(--line);
}
.brand {
  flex: 0 0 92px;
  height: 44px;
  display: flex;
  align-items: center;
  justify-content: center;
  background: #14484a;
  color: #fff;
  font-weight: 600;
  letter-spacing: 0.2px;
  text-decoration: none;
}
nav {
  display: flex;
  flex: none;
  gap: 20px;
}
nav a {
  white-space: nowrap;
  color: var(--ink2);
  line-height: 41px;
  border-top: 3px solid transparent;
  text-decoration: none;
}
nav a:hover {
  color: var(--ink);
}
nav a.on {
  color: var(--ink);
  font-weight: 600;
  border-top-color: var(--fir);
}
.who .name {
  max-width: 190px;
  color: var(--ink2);
  text-decoration: none;
}
.who .name:hover {
  text-decoration: underline;
}
.who {
  display: flex;
  align-items: center;
  gap: 10px;
  color: var(--ink2);
  white-space: nowrap;
}
</style>
