/** Written by learning/drum-shapes.ts: levels by role, moment and band, 255 the loudest. */
export const SHAPES_BASE64 =
  'AOPm3M3Gu7avramws62trKSikoJvZV89APvzz8nCubWysbG2ubKzr6ymlIV6dm1OAP/rzL65tKmipKKmqqerpqCgjIB4cmtUAPfhxrKvqJqcl5' +
  'qepZ+cnpqSh3tycGRNAPPauqeflpOQkJaUlZCPi4mMfG1oYUw9AO7UsKKZk5CJi46OjIuHjYeHe2pcVTkpAOvRrpuNjIeLhYKGg4aGhISAcF5F' +
  'QSUKAOHBpJaPh4F6eX6BgoB9fXZzalk6JxUAANq5mpKFfnh2cnSAent3dXRuXkktFQsAANK4lYaBc3NuamxycXBuaWZgTUAgDAAAALWeeHBsXl' +
  '9fV1pkYF9bWE9NOyIKAAAAAJmBYFlOSkhBO0VQTk5DQzYpFQAAAAAAAHhuSkdAMS8wJikwLSghHRICAAAAAAAAAN3s8e7r6tfOzszIysjLx8i/' +
  'taudj4A5AOX//urm59bU0dPMz83OzcjBubGllIVEANr9/+fZ3NrSz8/MxMnMxsO/tqqfjX87ANn39d/X2dfSysrKxMfDwcK8tqmej309ANfz79' +
  'zY09LRx8LCwcLDwL6+tKiXiHg0ANTt6NLPz9LNxLq/u73Cvb27s6aXhHM7ANDj283HwsC9uba4trW2s7axqp+MfGkoAMvX0cS9v7Sysqqnq6qs' +
  'rauooJOAb1ohAL/Mwrm2rqiuop+gnp+en56clol1W0EOAK+4tK+noqWflpiTjZCQj42Mg3lkQBsAAJOmnqailY6Ig4eCg3+DhHx9dGJMJgAAAH' +
  'KRk32IdIF4f3ZubGpvaGReXUorAAAAAFFpaWBnX05YWldOVEtJQUI7LRYAAAAAAMfX3t/b087d7e/l4dvj6uzj1c7BsKOWAMvS39nc1Ony//Hs' +
  '4+bm6+bZ0cu9rJ6TAMnJ2djA2Ovn7ufc3urg2tjJwrqql4l6ALS3ysjS0dzb8Nja1eDT3tXRxrqvn4l6AKjDx8DHydfS5NfU1c/T1dHRx8G0oY' +
  't4AKS+vL21usHI5NPKy9XT0dLKyL2yoYZ2AKGmtri1s8PF38jEwcfFxsnGvbarmHlkAJmlsK+lpbbB08C9tbi7u76xraifiGRCAJGdq6Ocm6y4' +
  'xLi2rayxsq+ml46Ba0gZAHmXo6aglKmttKuppbGnpKSVh31rUTIOAHeBk5uRlqeiuKelpa2drZuMhXZnRyEJAG+BiJ2QhZKiq6aQm5mSmpGGeW' +
  'tYNBMHAF9xhoR5gYWRnJWKgZ2Jh39vX0o1Ew8GAMHKyNrk4+n2/fPy7ufm4uPd29DHwr+uAM/Z3efn4e3w+/3+9N3Y4d7W0sjAubKiANnZ3Nje' +
  '6un2//j99Ozp5NjW0cnCvrusAOPczc3R3O/49Pjz5uHd0s/Kwri2tK6YANDJ2+b18vH79/rz7O/i2dvTz8rIx7+0AM7T1uLj4PX0+/Lq7+jg3N' +
  'rTzszHxL+tANfJydbk4O3n7ufj3tvX2tTKxsK8uLOfAMTK09Hb5OPm5N7Z0tnPysPAt7Svq6WMALarv8jQ1NXP1s3Kw8C6traspJ6bmIlrALGm' +
  'pq67wsTAvLexqqKbmI2IenJqYFE5AIiOj5mbqKe1raSblJKCfHFrXk5DPzciAGdocXaJjqCbjpKEendqY1xIQTwwLy0bADEQLDE2MC84Pz4zNT' +
  'MkIhUKBgAAAAAAAOXz+PTpzMje4O/o7/T7+P/v6Onk3tzNAM/2/uXv3Nfk3eDd3/H36u3q5+rp5ejXANbO6+zi6efo5dra1ejr6efk5ejp6eXU' +
  'ALro8eTZ393V5Njb1+Dk6OLo4+Tp6eTXAMTW7eXZ19ri0Nza4OHm9ODl4+Xk5OLNAMLo19nYz8ne3NPRytTi9t/i3eXi4uLSALXa6N/Y3tLMzM' +
  'TVztrf7d3Z19rg3t/EALbQzMzM08nOxMjJv8jZ6NXTztnZ2NC+AK/G2cnPx7a4t727vsHL0szGwsfLyMGsAIa3w7ysp5+mqp+hnq2zs7GqpKqm' +
  'o5dyAHiZpZCTkYSSjYyLjZGYo5qVkpCFg25LAG58gnpsbGhvanZtb3+Bj392anVkZUU/AGVTXFlHTUo8OmBCTllmdl1NPFQlPyozAOL0/v/33d' +
  'jg4Ore6u/18vr58urk3OLOANPi+fno59np5Oba2ezk5e7s5+Xi4OXRAM7QzM/k3Njt8ebN0N3d4+ro5+bj2+DOALvW6Ozg5NrW8OvW0Nne4+Xj' +
  '5efk297PALrI5Ors3NPt4ebY0Nzc5t7k5uXl3tXFAK7E497o8tPy2eTg19/R3d7i4eLh3c6yAK27zdXz8NDo2tfr4+DQ3tfc3OHa2cq2AKu1y+' +
  'Dt+NLo1tfl2tfU3d7g293b08GuAKuvwMvd6NHs1uvj1Nze5eDh2+HZ18OwAJWlvsfe8cvl2Oni0NjT3dnX3NbQy7ahAJOgtsns8sLly+bV3NrS' +
  '29Td18vHwa+XAJGQpLvs8s3eyNHTz9jV2s/Tzc7MvaydAJOis7Pg6r7OytDN09XP0sbMx767uKCNAPL6+vPo3NXUzc3LyMjGw768tauimJF5AP' +
  'j8+evY0M7PxsbHxsTCwL64ubCvopZ2APr/9OjTy8nIyMjBxcXBxMTEwL60qJuCAPz99ebbzMPCvMHAwsTGycnDwb+1qpiEAPr79OfRxb3AvrzA' +
  'wsTKyMnEvrKmlYRoAPj58ePJxcC6t7a7u8C+x8S7sKOVg3BOAPX269q+vLazrq+vsK6ztK6nm5GBcl1BAPHy5M25ua6loqOgn5ydn6CXkYR4al' +
  'w4AO3s3b61rKGenZqWlJeZmZaPjIl6bEw5AOjjzbmknpaWj46KmJWYl5ONhndlUjkWAOTavK+fkouIiIaHjY2UjYp+cWBKMBgDANzPsp+Tgn55' +
  'cnV4f3x/gHZoWEAjFA4AAMu5k4B7bmZfVVdjZGFdYE9AIw0IBQQAAMXLzdDS5+nZ2NzQ3ebw9/Xu6+rr6NfEAMLQ1tzb7vDx6+DZ3+Po7Ovp5u' +
  '/x7+DHAMPS0Nrn//b09Ojc4Nvi3Nzm5e7t6NzBAMHN1eDh9+vt6OPW5N7m4t3l5urp4dK7ALjR4eHZ8ezm3ODm3t3t6d/j5Orn2cuyAL/J0NPW' +
  '6ufj3OLe3N3o5t/l5ezi0MKqALq81t/R5tze1tbf3ufr5uHk5OfeyLahALLC0tPO7Obf1tPY2d7p5eHl4eTXvaydALm8zdPT3d3V0s3U2eLo5+' +
  'Di4+LSuKafAKyxztzQ3eDVzs/T3N/p4ePe3dvNtaOeAKayyM7V4drNys3O3t/n5uDc2tbItaCcAKagxc7P1dTMzMvN0djg4Nrb1dDEr5+bAKCn' +
  'vb7J0dTOws3U1Nbc2NnPy8e7q5SOAOHt8vPz9/r55ePq+OTi3tnQ0tDS1r+qANHz/vL5/v/54uLc9tnj1djL0dLUyrqrAMvw++34+PPu29vS6c' +
  'bWyNLHzdDVx7yvAMfs9+7y6+zj0tbK2r/P1NPJzNLTzr+lAMnu+ert3uHVy9PBxMPG0dDN0tHSzL6jAMLo8efp2tnVxdK/wbTEyMrFwMjPxrqh' +
  'AL/l7d/fztLUucysu6q4sL66tr3HtaaWALXg5tvV0c/KsMqcsZ2no7OwprO+oZKGAK3V2M/HxMfIpMaZt6Orq6ukp6izloJ1AKDHysCwsrvCl8' +
  'CcqZ+ko52dmJqriYB+AIu1u62Xmq2/mquYsJ+lnKShr5iih3JmAHeWnZR/fI21qY2Vu6Som5eapZqQdmRUAHZhbWdZYXGekXyMn5yfpJWOkH15' +
  'Z1NB';
